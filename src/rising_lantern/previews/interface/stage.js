// @ts-check
// The page itself in its viewport, running what is exported; a second variant may stand beside it.

import { byId, element, replaceChildren } from "./elements.js";
import { clamp } from "./numbers.js";
import { pageText } from "./page_text.js";
import { matching } from "./positions.js";

const QUIET = `html { scrollbar-width: none; scroll-behavior: auto !important; }`;

/**
 * @param {import("./types").Store} store
 * @param {import("./types").Source} source
 */
export function startStage(store, source) {
  const room = byId("stage");
  const screens = [];
  let drawing = 0;

  const viewport = (state) => source.plan.viewports.find((item) => item.name === state.viewport);

  // --- sizes -----------------------------------------------------------------------------------

  const fit = () => {
    const { state } = store;
    const size = viewport(state);
    const gap = 16 * (screens.length - 1);
    const caption = screens.some((screen) => screen.caption.textContent) ? 24 : 0;
    const wide = (room.clientWidth - 2 - gap) / Math.max(screens.length, 1) / size.clientWidth;
    // The stage is no higher than its pages can be at its width.
    const needed = size.height * Math.min(wide, 1) + caption + 2;
    room.parentElement.style.setProperty("--stage", `${Math.ceil(needed)}px`);
    const high = (room.clientHeight - 2 - caption) / size.height;
    const scale = state.fit ? clamp(Math.min(wide, high), 0.05, 1) : 1;
    room.toggleAttribute("data-whole", !state.fit);
    for (const screen of screens) {
      screen.box.style.width = `${size.clientWidth * scale}px`;
      screen.box.style.height = `${size.height * scale}px`;
      const { style } = screen.frame;
      style.width = `${size.clientWidth / state.zoom}px`;
      style.height = `${size.height / state.zoom}px`;
      style.transform = `scale(${scale * state.zoom})`;
    }
    byId("scale").textContent = `${Math.round(scale * 100)} %`;
  };

  // --- scrolling -------------------------------------------------------------------------------

  const identical = (screen) => store.state.zoom === 1 && screen === screens[0];

  // The sections as they stand in the frame: at another zoom, or in another variant.
  const standing = (screen) => {
    const inner = screen.frame.contentDocument;
    const top = screen.frame.contentWindow.scrollY;
    const sections = [...inner.querySelectorAll("main > .lantern-section")].map((node) => {
      const box = node.getBoundingClientRect();
      const name = node.classList[1].replace(/^lantern-(section-)?/, "");
      return { name, top: box.top + top, height: box.height };
    });
    const maxScroll = inner.documentElement.scrollHeight - screen.frame.contentWindow.innerHeight;
    return { sections, maxScroll };
  };

  const scrollTo = (screen, at) => {
    const target = screen.frame.contentWindow;
    if (!screen.ready || !target || !(identical(screen) || screens[0].view)) return;
    const place = identical(screen) ? at : matching(at, screens[0].view, standing(screen));
    if (Math.abs(target.scrollY - place) >= 1) {
      screen.asked = place;
      target.scrollTo({ top: place, behavior: "instant" });
    }
  };

  const scrolled = (screen) => {
    const here = screen.frame.contentWindow.scrollY;
    if (!identical(screen) && !screens[0].view) return;
    // What was asked for here is known already.
    if (screen.asked !== null && Math.abs(here - screen.asked) < 1) {
      screen.asked = null;
      return;
    }
    screen.asked = null;
    const at = identical(screen) ? here : matching(here, standing(screen), screens[0].view);
    moveTo(Math.round(at));
  };

  const moveTo = (at) => {
    const { state } = store;
    store.set({ at, going: at < state.at ? "up" : at > state.at ? "down" : state.going });
  };

  // --- pages -----------------------------------------------------------------------------------

  const followLink = (event) => {
    const link = event.target.closest?.("a[href]");
    if (!link) return;
    event.preventDefault();
    const name = link.getAttribute("href").replace(/\.html$/, "");
    if (source.plan.pages.some((page) => page.name === name)) store.set({ page: name, at: 0 });
  };

  const opened = (screen) => {
    const { contentDocument, contentWindow } = screen.frame;
    const quiet = new contentWindow.CSSStyleSheet();
    quiet.replaceSync(QUIET);
    contentDocument.adoptedStyleSheets.push(quiet);
    contentWindow.addEventListener("scroll", () => scrolled(screen), { passive: true });
    contentDocument.addEventListener("click", followLink);
    contentDocument.addEventListener("keydown", (event) => {
      if (event.key.length === 1 && !event.ctrlKey && !event.metaKey && event.key !== " ") {
        document.body.dispatchEvent(new KeyboardEvent("keydown", { key: event.key, bubbles: true }));
      }
    });
    screen.ready = true;
    screen.box.removeAttribute("aria-busy");
    scrollTo(screen, store.state.at);
  };

  const caption = (state, variant) => {
    if (state.beside >= 0) return source.plan.variants[variant];
    return state.zoom === 1 ? "" : `Zoomed to ${state.zoom * 100} %; figures are those of 100 %`;
  };

  const draw = async (state) => {
    const number = ++drawing;
    const variants = state.beside >= 0 ? [state.variant, state.beside] : [state.variant];
    const views = Promise.all(variants.map((variant) => source.view(state, variant)));
    const sites = await Promise.all(variants.map((variant) => source.site(state, variant)));
    // The page is shown as soon as it is there; figures may come later.
    const running = sites.every((site) => site && state.page in site.pages);
    if (!running) await views;
    if (number !== drawing) return;
    const size = viewport(state);
    document.body.dataset.shape = size.height > size.clientWidth ? "tall" : "wide";
    screens.splice(0).forEach((screen) => screen.release?.());
    variants.forEach((variant, index) => {
      const site = sites[index];
      const frame = element("iframe", {
        title: `${state.page} on ${state.viewport}${caption(state, variant) ? `, ${caption(state, variant)}` : ""}`,
      });
      frame.style.colorScheme = state.dark ? "dark" : "light";
      const box = element("div", { class: "screen", "aria-busy": "true" }, frame);
      const words = element("figcaption", {}, caption(state, variant));
      const screen = { frame, box, caption: words, view: null, ready: false, asked: null };
      screens.push(screen);
      if (!running) return;
      const text = pageText(site, state, source);
      screen.release = text.release;
      frame.addEventListener("load", () => opened(screen), { once: true });
      frame.srcdoc = text.html;
    });
    replaceChildren(
      room,
      screens.map((screen) => element("figure", {}, screen.box, screen.caption)),
    );
    fit();
    sight(state);
    const found = await views;
    if (number !== drawing) return;
    screens.forEach((screen, index) => (screen.view = found[index]));
    if (running) showPositions(store.state);
    else screens.filter((screen) => screen.view).forEach(drawPicture);
  };

  // Without the pages, the part of the long view that is on the screen.
  const drawPicture = (screen) => {
    const picture = element("img", { src: source.picture(screen.view.long), alt: "" });
    screen.picture = picture;
    replaceChildren(screen.box, [
      picture,
      element("p", { class: "note" }, "A light preview: a picture of the page, without its header."),
    ]);
    screen.box.removeAttribute("aria-busy");
    showPicture(screen, store.state.at);
  };

  const showPicture = (screen, at) => {
    const { height, maxScroll } = screen.view;
    screen.picture.style.height = `${(height / (height - maxScroll)) * 100}%`;
    screen.picture.style.transform = `translateY(${(-at / height) * 100}%)`;
  };

  const sight = (state) => {
    for (const screen of screens) screen.box.style.filter = state.sight ? `url(#${state.sight})` : "";
  };

  const showPositions = (state) => {
    for (const screen of screens) {
      if (screen.picture) showPicture(screen, state.at);
      else scrollTo(screen, state.at);
    }
  };

  store.watch(
    [
      "page",
      "viewport",
      "variant",
      "beside",
      "slide",
      "motionless",
      "scriptless",
      "dark",
      "zoom",
      "revision",
    ],
    draw,
  );
  store.watch(["at"], showPositions);
  store.watch(["sight"], sight);
  store.watch(["fit"], () => screens.length && fit());
  new ResizeObserver(() => screens.length && fit()).observe(room);

  return {
    // What runs in time in the frames: fades and animations, not what follows the scroll.
    animations: () =>
      screens
        .filter((screen) => screen.ready)
        .map((screen) => screen.frame.contentDocument)
        .flatMap((page) => page.getAnimations().filter((item) => item.timeline === page.timeline)),
  };
}
