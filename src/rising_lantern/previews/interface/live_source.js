// @ts-check
// The server that watches the plan: what it says now, and what it says once it has measured.

import { loaded, pictureUrl } from "./source.js";

async function asked(path, words) {
  const answer = await fetch(`${path}?${new URLSearchParams(words)}`);
  const found = await answer.json();
  if (answer.ok && !found.outOfDate) return found;
  throw Object.assign(new Error("refused"), { faults: found.faults });
}

export async function liveSource(onFaults) {
  let plan = await asked("/outline.json", {});
  let views = new Map();
  let sites = new Map();
  let pictures = new Map();
  let draw = () => {};

  const words = (state) => ({ page: state.page, viewport: state.viewport, slide: state.slide });

  const kept = (store, key, make) => {
    if (!store.has(key)) {
      const made = make();
      store.set(key, made);
      // What failed is asked for again the next time.
      made.catch(() => store.delete(key));
    }
    return store.get(key);
  };

  const read = async (path, state) => {
    const own = pictures;
    const { pictures: texts, ...data } = await asked(path, words(state));
    for (const [name, text] of Object.entries(texts)) own.set(name, pictureUrl(text));
    return loaded(data);
  };

  const measure = async (state, key) => {
    const own = views;
    try {
      const view = await read("/measured.json", state);
      if (own !== views) return;
      views.set(key, Promise.resolve(view));
      draw();
    } catch (error) {
      if (own === views && error.faults?.length) onFaults(error.faults);
    }
  };

  const caught = async (promise) => {
    try {
      return await promise;
    } catch (error) {
      onFaults(error.faults ?? [{ place: "", text: "The server does not answer", remedy: "" }]);
      return null;
    }
  };

  return {
    get plan() {
      return plan;
    },
    picture: (name) => pictures.get(name) ?? "",
    asset: (name) => new URL(`/${name}`, location.href).href,
    hasAsset: (name) => /^assets\/[\w.-]+$/.test(name),
    site: (state) =>
      caught(
        kept(sites, `${state.page}/${state.slide}`, () =>
          asked("/site.json", { page: state.page, slide: state.slide }),
        ),
      ),
    view(state) {
      const key = Object.values(words(state)).join("/");
      if (!views.has(key)) {
        const own = views;
        const first = kept(views, key, () => read("/view.json", state));
        first.then(
          () => own === views && measure(state, key),
          () => {},
        );
      }
      return caught(views.get(key));
    },
    // Called when a view that is shown already has been measured.
    later(again) {
      draw = again;
    },
    async renew() {
      const before = pictures;
      plan = await asked("/outline.json", {});
      views = new Map();
      sites = new Map();
      pictures = new Map();
      return () => before.forEach((url) => URL.revokeObjectURL(url));
    },
  };
}

// Tells each state of the plan, and whether the server answers.
export function watchPlan(onState, onConnection) {
  const events = new EventSource("/events");
  events.addEventListener("message", (event) => onState(JSON.parse(event.data)));
  events.addEventListener("open", () => onConnection(true));
  events.addEventListener("error", () => onConnection(false));
}
