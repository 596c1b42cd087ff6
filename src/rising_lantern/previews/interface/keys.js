// @ts-check
// Single keys, which can be switched off; none counts while somebody types.

import { byId, field } from "./elements.js";
import { nextFinding } from "./findings.js";

/**
 * @param {import("./types").Store} store
 * @param {{ copy: () => void }} moment
 * @param {import("./types").ViewOf} viewOf
 */
export function startKeys(store, moment, viewOf) {
  const allowed = field("keys");
  let view = null;
  viewOf((given) => (view = given));

  const actions = {
    c: moment.copy,
    p: () => store.set({ playing: !store.state.playing }),
    ".": () => byId("step").click(),
    "]": () => view && nextFinding(store, view, 1),
    "[": () => view && nextFinding(store, view, -1),
  };
  document.addEventListener("keydown", (event) => {
    const typing = /** @type {Element} */ (event.target).closest?.(
      "input:not([type=radio], [type=checkbox]), select, textarea",
    );
    if (!allowed.checked || typing || event.ctrlKey || event.metaKey || event.altKey) return;
    actions[event.key]?.();
  });
}
