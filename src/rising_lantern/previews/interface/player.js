// @ts-check
// Gestures at true time, at half speed, or picture by picture.

import { byId, element, field, replaceChildren } from "./elements.js";
import { gesturePath } from "./source.js";

const RATE = 60;

/**
 * @param {import("./types").Store} store
 * @param {import("./types").Stage} stage
 * @param {import("./types").ViewOf} viewOf
 */
export function startPlayer(store, stage, viewOf) {
  const choice = field("gesture");
  const button = byId("play");
  const clock = byId("clock");
  let view = null;
  let path = null;
  let time = 0; // seconds since the gesture began
  let last = null;
  let asked = 0;

  const show = () => {
    const whole = path ? (path.length - 1) / RATE : 0;
    clock.textContent = `${time.toFixed(2)} of ${whole.toFixed(2)} s`;
    const { playing } = store.state;
    button.textContent = playing ? "Pause" : time > 0 && time < whole ? "Go on" : "Play";
    button.setAttribute("aria-pressed", String(playing));
  };

  // Fades in the page run as fast as the gesture, and stop with it.
  const pace = (rate) => {
    for (const animation of stage.animations()) {
      if (rate) {
        animation.playbackRate = rate;
        if (animation.playState === "paused") animation.play();
      } else if (animation.playState === "running") animation.pause();
    }
  };

  const place = () => {
    const index = Math.min(Math.floor(time * RATE), path.length - 1);
    const at = path[index];
    const before = store.state.at;
    store.set({ at, going: at < before ? "up" : at > before ? "down" : store.state.going });
    return index < path.length - 1;
  };

  const tick = (now) => {
    if (!store.state.playing || !path) return;
    if (last !== null) time += ((now - last) / 1000) * store.state.speed;
    last = now;
    const goesOn = place();
    pace(store.state.speed);
    show();
    if (goesOn) requestAnimationFrame(tick);
    else store.set({ playing: false });
  };

  const rewind = () => {
    time = 0;
    last = null;
    show();
  };

  const load = async () => {
    const number = ++asked;
    store.set({ playing: false });
    if (view && !(store.state.gesture in view.gestures)) {
      store.set({ gesture: Object.keys(view.gestures)[0] });
    }
    const found = view ? await gesturePath(view, store.state.gesture) : null;
    if (number !== asked) return;
    path = found;
    rewind();
  };

  button.addEventListener("click", () => store.set({ playing: !store.state.playing }));
  const half = field("half");
  half.addEventListener("change", () => store.set({ speed: half.checked ? 0.5 : 1 }));
  choice.addEventListener("change", () => store.set({ gesture: choice.value }));
  byId("step").addEventListener("click", () => {
    if (!path) return;
    store.set({ playing: false });
    if (time * RATE >= path.length - 1) time = 0;
    time = (Math.floor(time * RATE + 1e-6) + 1) / RATE;
    place();
    for (const animation of stage.animations()) {
      animation.pause();
      animation.currentTime = Number(animation.currentTime) + 1000 / RATE;
    }
    show();
  });

  viewOf((given) => {
    const same = ["page", "viewport", "slide", "maxScroll"].every((key) => view?.[key] === given[key]);
    view = given;
    replaceChildren(
      choice,
      Object.keys(view.gestures).map((name) => element("option", { value: name }, name)),
    );
    choice.value = store.state.gesture;
    // A view that has been measured since then scrolls as before.
    if (!same) load();
  });
  store.watch(["gesture"], (state) => {
    choice.value = state.gesture;
    load();
  });
  store.watch(["playing"], (state) => {
    if (state.playing && path) {
      if (time * RATE >= path.length - 1) time = 0;
      last = null;
      requestAnimationFrame(tick);
    } else if (!state.playing && path && time > 0 && time * RATE < path.length - 1) pace(0);
    else pace(1);
    show();
  });
}
