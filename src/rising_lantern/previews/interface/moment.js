// @ts-check
// The moment at the current position, in words and numbers.

import { byId, element, replaceChildren } from "./elements.js";
import { px, ratio } from "./numbers.js";
import { sectionAt } from "./positions.js";

const HUNDREDTHS = 100;

const nearest = (positions, at) => {
  let best = 0;
  positions.forEach((position, index) => {
    if (Math.abs(position - at) < Math.abs(positions[best] - at)) best = index;
  });
  return best;
};

// Pairs of a name and words; contrast is given where it was measured, which may be some px away.
/**
 * @param {import("./types").View} view
 * @param {import("./types").State} given
 */
export function momentOf(view, { at, going }) {
  const row = Math.min(Math.floor(at / view.step), Math.max((view.columns["down top"]?.length ?? 1) - 1, 0));
  const value = (name) => view.columns[name]?.[row];
  /** @type {[string, string, boolean?][]} */
  const said = [["Position", `${px(at)} of ${px(view.maxScroll)}`]];
  const section = sectionAt(view, at);
  if (section) said.push(["Section", section.name]);
  if (view.header && view.columns["down top"]) {
    const [look, before] = [value(`${going} look`), value(`${going} before`)].map(
      (index) => view.looks[index],
    );
    const progress = value(`${going} progress`) / 1000;
    const share = progress < 1 ? `, ${Math.round(progress * 100)} % from ${before}` : "";
    said.push(["Look", `${look}${share}`]);
    const height = value(`${going} height`) / HUNDREDTHS;
    const top = value(`${going} top`) / HUNDREDTHS;
    said.push(["Header", `${shortened(height)} px high, at ${shortened(top)} px`]);
    const passed = view.steps.findLast((step) => step.start !== null && step.start <= at);
    const coming = view.steps.find((step) => step.start !== null && step.start > at);
    if (passed) said.push(["Switched", switchWords(passed)]);
    if (coming) said.push(["Switches next", switchWords(coming)]);
  }
  const { positions, curves } = view.contrast;
  const index = nearest(positions, at);
  const near = positions[index] === at ? "" : ` at ${px(positions[index])}`;
  for (const curve of curves) {
    const found = curve.values[index];
    if (found === null) continue;
    const name = curve.kind === "text" ? curve.names[curve.of[index]] : curve.name;
    const verdict = found < curve.limits[index] ? "below" : "of";
    said.push([
      `Contrast, ${name}`,
      `${ratio(found)} ${verdict} ${ratio(curve.limits[index])}${near}`,
      found < curve.limits[index],
    ]);
  }
  for (const name of view.layers) {
    const offset = value(`offset ${name}`) / HUNDREDTHS;
    const opacity = value(`opacity ${name}`) / 1000;
    const seen = opacity < 1 ? `, ${Math.round(opacity * 100)} % opaque` : "";
    said.push([`Offset, ${name}`, `${shortened(offset)} px${seen}`]);
  }
  return said;
}

const shortened = (value) => String(Math.round(value * HUNDREDTHS) / HUNDREDTHS);

const switchWords = (step) => {
  const back =
    step.back !== null && step.back !== step.start ? `, back below ${shortened(step.back)} px` : "";
  const words = step.words && !step.words.endsWith("px") ? ` (${step.words})` : "";
  return `${step.look} from ${shortened(step.start)} px${words}, ${step.change}${back}`;
};

/**
 * @param {import("./types").Store} store
 * @param {import("./types").ViewOf} viewOf
 */
export function startMoment(store, viewOf) {
  const panel = byId("moment");
  let view = null;

  const draw = () => {
    if (!view || store.state.panel !== "moment") return;
    replaceChildren(
      panel,
      momentOf(view, store.state).map(([name, words, fails]) =>
        element("div", fails ? { class: "fails" } : {}, element("dt", {}, name), element("dd", {}, words)),
      ),
    );
  };

  const copy = async () => {
    if (!view) return;
    const lines = momentOf(view, store.state).map(([name, words]) => `${name}: ${words}`);
    const text = [`${view.page} on ${view.viewport}`, ...lines].join("\n");
    byId("said").textContent = (await copied(text)) ? "Copied" : "The browser does not let this page copy";
  };

  byId("copy").addEventListener("click", copy);
  viewOf((given) => {
    view = given;
    draw();
  });
  store.watch(["at", "going", "panel"], (state) => {
    byId("copy").hidden = state.panel !== "moment";
    byId("said").textContent = "";
    draw();
  });
  return { copy };
}

async function copied(text) {
  try {
    await navigator.clipboard.writeText(text);
    return true;
  } catch {
    // Where there is no clipboard, as in files: a selected field is copied.
    const copy = element("textarea", { "aria-hidden": "true", class: "away" });
    copy.value = text;
    document.body.append(copy);
    const before = /** @type {HTMLElement} */ (document.activeElement);
    copy.select();
    const done = document.execCommand("copy");
    copy.remove();
    before?.focus();
    return done;
  }
}
