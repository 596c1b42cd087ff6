// @ts-check
// What is shown: page, screen, variant, picture of slides, position; and how readers have it.

import { byId, element, field, replaceChildren } from "./elements.js";
import { parsePosition } from "./positions.js";

/**
 * @param {import("./types").Store} store
 * @param {import("./types").Source} source
 * @param {import("./types").ViewOf} viewOf
 */
export function startChoices(store, source, viewOf) {
  let view = null;

  // --- lists -----------------------------------------------------------------------------------

  const list = (id, items, value, set) => {
    const select = field(id);
    select.addEventListener("change", () => set(select.value));
    store.watch([id, "revision"], (state) => {
      replaceChildren(
        select,
        items().map(([key, words]) => element("option", { value: key }, words)),
      );
      select.value = String(value(state));
      byId(`${id}-choice`).hidden = items().length < 2;
    });
  };

  const variants = () => source.plan.variants.map((name, index) => [String(index), name]);
  list(
    "page",
    () => source.plan.pages.map((page) => [page.name, page.name]),
    (state) => state.page,
    (page) => store.set({ page, at: 0, finding: null, slide: 0 }),
  );
  list(
    "variant",
    variants,
    (state) => state.variant,
    (value) => store.set({ variant: Number(value), finding: null }),
  );
  list(
    "beside",
    () => (variants().length > 1 ? [["-1", "nothing"], ...variants()] : []),
    (state) => state.beside,
    (value) => store.set({ beside: Number(value) }),
  );

  const screens = byId("viewport");
  store.watch(["revision"], () => {
    replaceChildren(screens, [
      element("legend", { class: "away" }, "Screen"),
      ...source.plan.viewports.map((item) => {
        const input = element("input", { type: "radio", name: "viewport", value: item.name });
        input.addEventListener("change", () => store.set({ viewport: item.name, finding: null }));
        const title = `${item.width} × ${item.height}; stands for ${item.widths}`;
        const widths = item.widths.replace(" px and wider", "+").replace(/narrower than (\d+)/, "< $1");
        return element(
          "label",
          { title },
          input,
          element(
            "span",
            {},
            item.name,
            element("small", {}, widths.replace(" to ", "–").replace(" px", "")),
          ),
        );
      }),
    ]);
  });
  store.watch(["viewport", "revision"], (state) => {
    for (const input of screens.querySelectorAll("input")) input.checked = input.value === state.viewport;
  });

  const slide = field("slide");
  slide.addEventListener("change", () => store.set({ slide: Number(slide.value) }));
  store.watch(["page", "viewport", "slide", "revision"], (state) => {
    const slides = source.plan.slides[`${state.page}/${state.viewport}`] ?? [[0, ""]];
    byId("slide-choice").hidden = slides.length < 2;
    replaceChildren(
      slide,
      slides.map(([number, names]) => element("option", { value: number }, names)),
    );
    slide.value = String(slides.some(([number]) => number === state.slide) ? state.slide : 0);
  });

  // --- the position ----------------------------------------------------------------------------

  const place = field("at");
  const help = byId("at-help");
  byId("place").addEventListener("submit", (event) => {
    event.preventDefault();
    const found = view && parsePosition(place.value, view);
    place.setAttribute("aria-invalid", String(found === null));
    if (found === null) {
      const section = view?.sections[0]?.name ?? "hero";
      help.textContent = `Write 240, 12% or past ${section}`;
      return;
    }
    help.textContent = "";
    store.set({ at: found, playing: false });
    place.value = String(found);
  });
  store.watch(["at"], (state) => {
    if (document.activeElement !== place) place.value = String(Math.round(state.at));
    place.setAttribute("aria-invalid", "false");
  });
  viewOf((given) => (view = given));

  // --- switches --------------------------------------------------------------------------------

  for (const name of ["motionless", "scriptless", "dark"]) {
    const input = field(name);
    input.addEventListener("change", () => store.set({ [name]: input.checked }));
    store.watch([name], (state) => (input.checked = state[name]));
  }
  const choose = (name, read) => {
    const inputs = /** @type {HTMLInputElement[]} */ ([
      ...document.querySelectorAll(`input[name="${name}"]`),
    ]);
    for (const input of inputs) {
      input.addEventListener("change", () => store.set({ [name]: read(input.value) }));
    }
    store.watch([name], (state) =>
      inputs.forEach((input) => (input.checked = input.value === String(state[name]))),
    );
  };
  choose("zoom", Number);
  choose("sight", String);
  store.watch(["motionless", "scriptless", "dark", "zoom", "sight"], (state) => {
    const count = [state.motionless, state.scriptless, state.dark, state.zoom !== 1, state.sight].filter(
      Boolean,
    ).length;
    byId("readers").textContent = count ? `Reader: ${count} set` : "Reader";
  });

  const menu = /** @type {HTMLDetailsElement} */ (document.querySelector(".menu"));
  menu.addEventListener("keydown", (event) => {
    if (event.key !== "Escape") return;
    menu.open = false;
    byId("readers").focus();
  });
  document.addEventListener("pointerdown", (event) => {
    if (!menu.contains(/** @type {Node} */ (event.target))) menu.open = false;
  });

  const fit = byId("fit");
  fit.addEventListener("click", () => store.set({ fit: !store.state.fit }));
  store.watch(["fit"], (state) => fit.setAttribute("aria-pressed", String(!state.fit)));

  const theme = byId("theme");
  theme.addEventListener("click", () => {
    const dark = document.documentElement.dataset.theme === "dark";
    store.set({ theme: dark ? "light" : "dark" });
  });
  const system = matchMedia("(prefers-color-scheme: light)");
  const paint = () => {
    const shown = store.state.theme || (system.matches ? "light" : "dark");
    document.documentElement.dataset.theme = shown;
    theme.textContent = shown === "dark" ? "Light" : "Dark";
    theme.setAttribute("aria-label", shown === "dark" ? "Use light colours" : "Use dark colours");
  };
  system.addEventListener("change", paint);
  store.watch(["theme"], paint);
}
