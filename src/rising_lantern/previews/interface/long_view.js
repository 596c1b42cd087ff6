// @ts-check
// The whole page as one tall picture: the screen's window on it, looks, contrast, and findings.

import { byId, drawn, element, redrawn, replaceChildren } from "./elements.js";
import { clamp, counted, px } from "./numbers.js";
import { sectionAt } from "./positions.js";

const CURVES = 72; // px at least
const PICTURE = 188; // px at most
const PIN = 24; // px
const BAND = 14; // px
const EDGE = 8; // px beside the curves, for half of the last ratio
const TICKS = [1, 3, 4.5, 7, 21];
const NAMED = [1, 4.5, 21];
const LEVELS = ["error", "warning", "note"];

/**
 * @param {import("./types").Store} store
 * @param {import("./types").Source} source
 * @param {import("./types").ViewOf} viewOf
 */
export function startLongView(store, source, viewOf) {
  const room = byId("long");
  const track = byId("long-track");
  const picture = byId("long-picture");
  const slider = byId("long-window");
  const bands = byId("long-bands");
  const curves = byId("long-curves");
  const pins = byId("long-pins");
  let view = null;
  let scale = 1;

  const y = (at) => at * scale;

  // --- what stands along the page --------------------------------------------------------------

  const draw = (given) => {
    view = given;
    if (!view) return;
    const size = source.plan.viewports.find((item) => item.name === view.viewport);
    const high = room.clientHeight - 28;
    const beside = getComputedStyle(curves).display === "none" ? 0 : CURVES;
    const most = Math.min(PICTURE, room.clientWidth - PIN - BAND - beside);
    scale = clamp(high / view.height, 40 / size.clientWidth, most / size.clientWidth);
    track.style.height = `${view.height * scale}px`;
    const wide = Math.round(size.clientWidth * scale);
    track.style.gridTemplateColumns = `${PIN}px ${BAND}px ${wide}px minmax(${beside}px, 1fr)`;
    picture.style.backgroundImage = `url("${source.picture(view.long)}")`;
    slider.style.height = `${size.height * scale}px`;
    slider.setAttribute("aria-valuemax", view.maxScroll);
    drawBands();
    drawCurves();
    drawPins();
    show(store.state);
  };

  const drawBands = () => {
    const steps = view.steps.filter((step) => (step.start ?? 0) <= view.maxScroll);
    replaceChildren(
      bands,
      steps.map((step, index) => {
        const start = Math.max(step.start ?? 0, 0);
        const end = Math.min(steps[index + 1]?.start ?? view.maxScroll, view.maxScroll);
        const words = `${step.look} from ${px(Math.ceil(start))}`;
        const band = element("button", {
          type: "button",
          class: "band",
          title: words,
          "aria-label": words,
          tabindex: -1,
          onclick: () => store.set({ at: Math.ceil(start) }),
        });
        band.style.cssText = `top: ${y(start)}px; height: ${Math.max(y(end - start), 2)}px`;
        band.style.setProperty("--look", step.background);
        return band;
      }),
    );
  };

  const x = (value, width) => (Math.log(clamp(value, 1, 21)) / Math.log(21)) * width;

  const drawCurves = () => {
    const width = Math.max(curves.clientWidth, CURVES) - 2 * EDGE;
    const { positions, curves: lines } = view.contrast;
    const shapes = TICKS.map((tick) =>
      drawn("line", { class: "tick", x1: x(tick, width), x2: x(tick, width), y1: 0, y2: y(view.maxScroll) }),
    );
    for (const line of lines) {
      shapes.push(drawn("path", { class: `limit ${line.kind}`, d: path(positions, line.limits, width) }));
      shapes.push(drawn("path", { class: `curve ${line.kind}`, d: path(positions, line.values, width) }));
      const low = line.values.map((value, index) =>
        value !== null && value < line.limits[index] ? value : null,
      );
      shapes.push(drawn("path", { class: "failing", d: path(positions, low, width) }));
    }
    curves.setAttribute("viewBox", `${-EDGE} 0 ${width + 2 * EDGE} ${Math.max(y(view.height), 1)}`);
    curves.style.height = `${view.height * scale}px`;
    replaceChildren(curves, [
      drawn(
        "title",
        {},
        "Contrast of each part of the header, and of the text with the lowest, against their limits",
      ),
      ...shapes,
      drawn("line", { class: "here", id: "long-here", x1: -EDGE, x2: width + EDGE }),
    ]);
    const ticks = byId("long-ticks");
    replaceChildren(
      ticks,
      NAMED.map((tick) => {
        const label = element("span", {}, String(tick));
        label.style.left = `${x(tick, width) + EDGE}px`;
        return label;
      }),
    );
    ticks.style.width = `${width + 2 * EDGE}px`;
  };

  const path = (positions, values, width) => {
    let words = "";
    let open = false;
    values.forEach((value, index) => {
      if (value === null) open = false;
      else {
        words += `${open ? "L" : "M"}${x(value, width).toFixed(1)} ${y(positions[index]).toFixed(1)}`;
        open = true;
      }
    });
    // A single position is a point.
    return words.replace(/(M[\d.]+ [\d.]+)(?=M|$)/g, "$1h.1");
  };

  // Findings whose pins would cover each other share one, which goes from one to the next.
  const groups = () => {
    const found = [];
    view.findings.forEach((finding, index) => {
      if (finding.silenced === null) found.push({ finding, index, y: y(finding.at) });
    });
    found.sort((a, b) => a.y - b.y);
    const result = [];
    for (const item of found) {
      const last = result.at(-1);
      if (last && item.y - last[0].y < PIN) last.push(item);
      else result.push([item]);
    }
    return result;
  };

  const drawPins = () => {
    redrawn(
      pins,
      groups().map((group) => {
        const worst = group
          .map(({ finding }) => finding.level)
          .sort((a, b) => LEVELS.indexOf(a) - LEVELS.indexOf(b))[0];
        const place = group.findIndex(({ index }) => index === store.state.finding);
        const { finding } = group[Math.max(place, 0)];
        const first = `${finding.level}: ${finding.rule}, ${finding.subject}, at ${px(finding.at)}`;
        const words = group.length > 1 ? `${counted(group.length, "finding")}; ${first}` : first;
        const next = group[(place + 1) % group.length];
        const pin = element(
          "button",
          {
            type: "button",
            class: `pin ${worst}`,
            title: words,
            "aria-label": words,
            "aria-pressed": String(place >= 0),
            onclick: () =>
              store.set({ at: next.finding.at, finding: next.index, panel: "findings", playing: false }),
          },
          group.length > 1 ? element("b", {}, String(group.length)) : null,
        );
        pin.style.top = `${Math.max(group[0].y - PIN / 2, 0)}px`;
        return pin;
      }),
    );
  };

  // --- the window ------------------------------------------------------------------------------

  const show = (state) => {
    if (!view) return;
    const top = y(clamp(state.at, 0, view.maxScroll));
    slider.style.transform = `translateY(${top}px)`;
    slider.setAttribute("aria-valuenow", String(Math.round(state.at)));
    slider.setAttribute("aria-valuetext", words(state));
    const line = byId("long-here");
    line?.setAttribute("y1", String(top));
    line?.setAttribute("y2", String(top));
    const edge = track.offsetTop + top;
    if (edge < room.scrollTop || edge + slider.offsetHeight > room.scrollTop + room.clientHeight) {
      room.scrollTop = edge - 40;
    }
  };

  const words = (state) => {
    const look = lookAt(view, state);
    const section = sectionAt(view, state.at);
    return [px(state.at), section?.name, look && `look ${look}`].filter(Boolean).join(", ");
  };

  const moveTo = (at) => {
    const place = clamp(Math.round(at), 0, view.maxScroll);
    const { state } = store;
    store.set({ at: place, going: place < state.at ? "up" : "down", playing: false });
  };

  let grip = null;
  const positionOf = (event) => (event.clientY - track.getBoundingClientRect().top) / scale;

  picture.addEventListener("pointerdown", (event) => {
    if (!view || event.button) return;
    const place = positionOf(event);
    const { at } = store.state;
    const size = view.height - view.maxScroll;
    // The window is dragged where it was taken; elsewhere it comes under the pointer first.
    grip = place >= at && place <= at + size ? place - at : size / 2;
    picture.setPointerCapture(event.pointerId);
    moveTo(place - grip);
    slider.focus({ preventScroll: true });
    event.preventDefault();
  });
  picture.addEventListener("pointermove", (event) => grip !== null && moveTo(positionOf(event) - grip));
  for (const name of ["pointerup", "pointercancel"]) {
    picture.addEventListener(name, () => (grip = null));
  }

  slider.addEventListener("keydown", (event) => {
    if (!view) return;
    const screen = view.height - view.maxScroll;
    const steps = {
      ArrowDown: 10,
      ArrowRight: 1,
      ArrowUp: -10,
      ArrowLeft: -1,
      PageDown: screen * 0.9,
      PageUp: -screen * 0.9,
      Home: -Infinity,
      End: Infinity,
    };
    if (!(event.key in steps)) return;
    event.preventDefault();
    moveTo(clamp(store.state.at + steps[event.key], 0, view.maxScroll));
  });

  viewOf(draw);
  store.watch(["at"], show);
  store.watch(["finding"], () => view && drawPins());
  new ResizeObserver(() => view && draw(view)).observe(room);
}

// The look at a position, for a reader who came from one side.
/**
 * @param {import("./types").View} view
 * @param {import("./types").State} given
 */
export function lookAt(view, { at, going }) {
  const row = clamp(Math.floor(at / view.step), 0, view.columns[`${going} look`]?.length - 1 || 0);
  const index = view.columns[`${going} look`]?.[row];
  return index === undefined ? null : view.looks[index];
}
