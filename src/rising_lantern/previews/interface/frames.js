// @ts-check
// Small frames at the positions worth looking at.

import { byId, element, redrawn } from "./elements.js";
import { px } from "./numbers.js";

/**
 * @param {import("./types").Store} store
 * @param {import("./types").Source} source
 * @param {import("./types").ViewOf} viewOf
 */
export function startFrames(store, source, viewOf) {
  const list = byId("frames");
  let view = null;

  const draw = (given) => {
    view = given;
    redrawn(
      list,
      (view?.frames ?? []).map((frame) => {
        const words = `${px(frame.at)}: ${frame.words}`;
        return element(
          "li",
          {},
          element(
            "button",
            {
              type: "button",
              title: words,
              "aria-label": words,
              onclick: () => store.set({ at: frame.at, playing: false }),
            },
            element("img", { src: source.picture(frame.picture), alt: "" }),
            element("span", {}, px(frame.at)),
          ),
        );
      }),
    );
    list.scrollLeft = 0;
    mark(store.state);
  };

  // The last frame that has been passed.
  const mark = (state) => {
    if (!view) return;
    const current = view.frames.findLastIndex((frame) => frame.at <= state.at);
    [...list.children].forEach((item, index) => {
      const button = item.firstElementChild;
      if (index === current) button.setAttribute("aria-current", "true");
      else button.removeAttribute("aria-current");
    });
    const item = /** @type {HTMLElement} */ (list.children[current]);
    if (
      item &&
      (item.offsetLeft < list.scrollLeft ||
        item.offsetLeft + item.offsetWidth > list.scrollLeft + list.clientWidth)
    ) {
      list.scrollLeft = item.offsetLeft - 8;
    }
  };

  viewOf(draw);
  store.watch(["at"], mark);
}
