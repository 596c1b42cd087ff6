// @ts-check
// Starts the interface: one store, one source of data, and a module for each panel.

import { ADDRESSED, readAddress, writeAddress } from "./address.js";
import { startChoices } from "./choices.js";
import { startCloseUps } from "./close_ups.js";
import { byId } from "./elements.js";
import { startFaults } from "./faults.js";
import { startFindings } from "./findings.js";
import { startFrames } from "./frames.js";
import { startKeys } from "./keys.js";
import { liveSource, watchPlan } from "./live_source.js";
import { startLongView } from "./long_view.js";
import { startMoment } from "./moment.js";
import { startPanels } from "./panels.js";
import { startPlayer } from "./player.js";
import { embeddedSource } from "./source.js";
import { createStore } from "./store.js";
import { startStage } from "./stage.js";

function startPreview(source) {
  const store = createdStore(source.plan);
  const watchers = [];
  let view = null;
  let asked = 0;

  // Panels are given the view that is chosen once it is there.
  const viewOf = (draw) => {
    watchers.push(draw);
    if (view) draw(view);
  };
  const load = async () => {
    const { state } = store;
    const number = ++asked;
    const found = await source.view(state);
    if (number !== asked || !found) return;
    view = found;
    document.body.removeAttribute("aria-busy");
    if (store.state.at > view.maxScroll) store.set({ at: view.maxScroll });
    watchers.forEach((draw) => draw(view));
  };

  source.later(load);
  startFaults(store);
  startChoices(store, source, viewOf);
  startPanels(store);
  startLongView(store, source, viewOf);
  startFrames(store, source, viewOf);
  startFindings(store, viewOf);
  startCloseUps(store, source, viewOf);
  const moment = startMoment(store, viewOf);
  const stage = startStage(store, source);
  startPlayer(store, stage, viewOf);
  startKeys(store, moment, viewOf);

  store.watch(["page", "viewport", "variant", "slide", "revision"], load);
  let waiting;
  store.watch(ADDRESSED, (state) => {
    // Browsers slow down where the address changes at every px.
    clearTimeout(waiting);
    waiting = setTimeout(() => writeAddress(state, source.plan), 120);
  });
  addEventListener("hashchange", () => store.set(readAddress(source.plan)));
  return store;
}

function createdStore(plan) {
  return createStore({
    ...readAddress(plan),
    going: "down",
    finding: null,
    fit: true,
    theme: "",
    gesture: "flick",
    playing: false,
    speed: 1,
    revision: 0,
    faults: [],
    connected: true,
  });
}

// The same choices as far as the plan still has them.
function keptChoices(state, plan) {
  const named = (list, name) => (list.find((item) => item.name === name) ?? list[0]).name;
  return { page: named(plan.pages, state.page), viewport: named(plan.viewports, state.viewport) };
}

async function startLive() {
  let store = null;
  const source = await liveSource((faults) => store?.set({ faults }));
  store = startPreview(source);
  let drawn = source.plan.revision;
  watchPlan(
    async ({ revision, faults }) => {
      store.set({ faults });
      if (revision === drawn || faults.length) return;
      drawn = revision;
      const release = await source.renew();
      store.set({ ...keptChoices(store.state, source.plan), finding: null, revision });
      setTimeout(release, 5000);
    },
    (connected) => store.set({ connected }),
  );
}

const embedded = byId("preview-data");
if (embedded) startPreview(embeddedSource(JSON.parse(embedded.textContent)));
else startLive();
