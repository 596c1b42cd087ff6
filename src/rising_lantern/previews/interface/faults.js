// @ts-check
// What is wrong with the plan, while the last good state stays.

import { byId, element, replaceChildren } from "./elements.js";

/**
 * @param {import("./types").Store} store
 */
export function startFaults(store) {
  const box = byId("fault");
  store.watch(["faults", "connected"], ({ faults, connected }) => {
    box.hidden = connected && !faults.length;
    document.body.toggleAttribute("data-outdated", !box.hidden);
    if (!connected) {
      replaceChildren(box, [
        element("h2", {}, "The server does not answer"),
        element("p", {}, "What you see is what it said last. It is asked again every few seconds."),
      ]);
      return;
    }
    replaceChildren(box, [
      element("h2", {}, "The plan has faults; this is how it was before"),
      element(
        "ul",
        {},
        ...faults.map((fault) =>
          element(
            "li",
            {},
            fault.place ? element("b", {}, `${fault.place} `) : null,
            fault.text,
            fault.remedy ? element("span", { class: "quiet" }, `; ${fault.remedy}`) : null,
          ),
        ),
      ),
    ]);
  });
}
