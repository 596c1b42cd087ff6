// @ts-check
// What is found on the page, each with its figure and what fixes it.

import { byId, element, redrawn, replaceChildren } from "./elements.js";
import { counted, px } from "./numbers.js";

/**
 * @param {import("./types").Store} store
 * @param {import("./types").ViewOf} viewOf
 */
export function startFindings(store, viewOf) {
  const panel = byId("panel-findings");
  const count = byId("count");
  let view = null;

  const draw = (given) => {
    view = given;
    const open = view ? view.findings.filter((item) => item.silenced === null) : [];
    count.textContent = view && open.length ? String(open.length) : "";
    if (!view) return;
    if (view.checking) {
      replaceChildren(panel, [element("p", { class: "empty" }, "Checking …")]);
      return;
    }
    const silenced = view.findings.length - open.length;
    const notes = [];
    if (!open.length) {
      notes.push(element("p", { class: "empty" }, `Nothing is wrong with ${view.page} on ${view.viewport}.`));
    }
    if (silenced) {
      notes.push(element("p", { class: "quiet" }, `${counted(silenced, "finding")} silenced in the plan.`));
    }
    if (view.leftOut) {
      notes.push(
        element(
          "p",
          { class: "quiet" },
          `${counted(view.leftOut, "more finding")} left out here; check lists all.`,
        ),
      );
    }
    const listed = view.findings
      .map((finding, index) => ({ finding, index }))
      .filter(({ finding }) => finding.silenced === null);
    const rows = listed.map(({ finding, index }) => row(finding, index));
    redrawn(panel, [rows.length ? element("ul", { class: "findings" }, ...rows) : null, ...notes]);
    mark();
  };

  const row = (finding, index) => {
    const where = finding.to > finding.from + 1 ? `${px(finding.from)} to ${px(finding.to)}` : px(finding.at);
    return element(
      "li",
      {},
      element(
        "button",
        {
          type: "button",
          "data-index": index,
          onclick: () => store.set({ at: finding.at, finding: index, playing: false }),
        },
        element("span", { class: `level ${finding.level}` }, finding.level),
        element(
          "span",
          { class: "what" },
          element("b", {}, `${finding.rule}: ${finding.subject}`),
          ` ${finding.message}`,
        ),
        element("span", { class: "fix" }, finding.remedy ? `Fix: ${finding.remedy}` : "", setting(finding)),
        element("span", { class: "where" }, where),
      ),
    );
  };

  // The value of the plan that does it, as it stands there.
  const setting = ({ settings: [first] }) =>
    first?.value ? element("code", { class: "setting" }, `${first.key}: ${first.value}`) : null;

  const mark = () => {
    for (const button of panel.querySelectorAll("button")) {
      const chosen = Number(button.dataset.index) === store.state.finding;
      button.setAttribute("aria-pressed", String(chosen));
      if (chosen) button.scrollIntoView({ block: "nearest" });
    }
  };

  viewOf(draw);
  store.watch(["finding"], mark);
}

// The next finding along the page, or the one before.
/**
 * @param {import("./types").Store} store
 * @param {import("./types").View} view
 * @param {number} step
 */
export function nextFinding(store, view, step) {
  const listed = view.findings
    .map((finding, index) => ({ finding, index }))
    .filter(({ finding }) => finding.silenced === null)
    .sort((a, b) => a.finding.at - b.finding.at);
  if (!listed.length) return;
  const here = listed.findIndex(({ index }) => index === store.state.finding);
  const place = here < 0 && step < 0 ? listed.length - 1 : (here + step + listed.length) % listed.length;
  const { finding, index } = listed[place];
  store.set({ at: finding.at, finding: index, panel: "findings", playing: false });
}
