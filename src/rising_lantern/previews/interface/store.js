// @ts-check
// What the interface shows, in one place. Panels are drawn from it, and change nothing but it.

/**
 * @param {import("./types").State} initial
 */
export function createStore(initial) {
  let state = Object.freeze({ ...initial });
  const watchers = [];

  return {
    get state() {
      return state;
    },
    set(changes) {
      const before = state;
      const changed = Object.keys(changes).filter((key) => !Object.is(changes[key], before[key]));
      if (!changed.length) return;
      state = Object.freeze({ ...before, ...changes });
      for (const { keys, draw } of watchers) {
        if (keys.some((key) => changed.includes(key))) draw(state, before);
      }
    },
    // Draws at once, and whenever one of some keys changes.
    watch(keys, draw) {
      watchers.push({ keys, draw });
      draw(state, state);
    },
  };
}
