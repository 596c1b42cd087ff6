// @ts-check
// The panels below the page, one at a time.

import { byId } from "./elements.js";

/**
 * @param {import("./types").Store} store
 */
export function startPanels(store) {
  const tabs = /** @type {HTMLElement[]} */ ([...document.querySelectorAll('[role="tab"]')]);

  for (const tab of tabs) {
    tab.addEventListener("click", () => store.set({ panel: tab.dataset.panel }));
    tab.addEventListener("keydown", (event) => {
      const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
      if (!step) return;
      const next = tabs[(tabs.indexOf(tab) + step + tabs.length) % tabs.length];
      store.set({ panel: next.dataset.panel });
      next.focus();
    });
  }
  store.watch(["panel"], (state) => {
    document.body.dataset.panel = state.panel;
    for (const tab of tabs) {
      const chosen = tab.dataset.panel === state.panel;
      tab.setAttribute("aria-selected", String(chosen));
      tab.tabIndex = chosen ? 0 : -1;
      byId(`panel-${tab.dataset.panel}`).hidden = !chosen;
    }
  });
}
