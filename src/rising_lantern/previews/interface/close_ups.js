// @ts-check
// The header at full size before, half-way through and after each switch.

import { byId, element, redrawn, replaceChildren } from "./elements.js";

/**
 * @param {import("./types").Store} store
 * @param {import("./types").Source} source
 * @param {import("./types").ViewOf} viewOf
 */
export function startCloseUps(store, source, viewOf) {
  const panel = byId("panel-header");

  viewOf((view) => {
    if (!view) return;
    if (!view.closeUps.length) {
      const words = view.header ? "" : `${view.page} has no header on ${view.viewport}.`;
      replaceChildren(panel, [element("p", { class: "empty" }, words)]);
      return;
    }
    redrawn(panel, [
      element(
        "ul",
        { class: "close-ups" },
        ...view.closeUps.map((shot) =>
          element(
            "li",
            {},
            element(
              "button",
              {
                type: "button",
                onclick: () => store.set({ at: shot.at, playing: false }),
              },
              element("span", {}, shot.words),
              element("img", {
                src: source.picture(shot.picture),
                alt: "",
                width: shot.width,
                height: shot.height,
              }),
            ),
          ),
        ),
      ),
    ]);
  });
}
