// Starts the interface: one store, one source of data, and a module for each panel.

import { ADDRESSED, readAddress, writeAddress } from "./address.js";
import { startChoices } from "./choices.js";
import { startCloseUps } from "./close_ups.js";
import { byId } from "./elements.js";
import { startFindings } from "./findings.js";
import { startFrames } from "./frames.js";
import { startKeys } from "./keys.js";
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
  const load = async (state) => {
    const number = ++asked;
    const found = await source.view(state);
    if (number !== asked || !found) return;
    view = found;
    document.body.removeAttribute("aria-busy");
    if (store.state.at > view.maxScroll) store.set({ at: view.maxScroll });
    watchers.forEach((draw) => draw(view));
  };

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
    going: "down", finding: null, fit: true, theme: "", gesture: "flick", playing: false, speed: 1,
    revision: 0,
  });
}

const embedded = byId("preview-data");
if (embedded) startPreview(embeddedSource(JSON.parse(embedded.textContent)));
