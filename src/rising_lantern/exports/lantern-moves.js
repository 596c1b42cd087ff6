// Moves what moves at a speed or along a path in browsers without scroll-driven animations: along the
// same key frames, by how far the page has been scrolled.
const PREFIX = "lantern";
let root;
const driven = CSS.supports("animation-timeline: view()");
let moving = [];
let places = [];
let current;

// Where sections are.
const measure = () => {
  places = moving.map((element) => {
    const { top, height } = element.getBoundingClientRect();
    return [element, top + current.scrolled(), height];
  });
  move();
};
const move = () => {
  const [scroll, screen] = [current.scrolled(), current.screen()];
  root.style.setProperty(`--${PREFIX}-scrolled`, scroll);
  for (const [element, top, height] of places) {
    element.style.setProperty(`--${PREFIX}-cover`, (screen - top + scroll) / (screen + height));
  }
};
// A header that changes its height moves the sections, which no scroll event says.
const watch = ({ scroller, signal, plan }) => {
  (scroller ?? window).addEventListener("scroll", move, { passive: true, signal });
  const resized = new ResizeObserver(measure);
  const header = root.querySelector(plan.header?.at ?? "_");
  if (header) resized.observe(header);
  signal.addEventListener("abort", () => resized.disconnect());
};

// lantern.js says where everything is when it starts, and whenever that changes.
const follow = ({ detail: flow }) => {
  const isFirst = flow.signal !== current?.signal;
  root = flow.root;
  const sections = Object.values(flow.plan.sections).map((at) => root.querySelector(at));
  moving = [...sections.filter(Boolean), ...root.querySelectorAll(`.${PREFIX}-ground`)];
  current = flow;
  if (isFirst) watch(flow);
  measure();
};
if (!driven) document.addEventListener(PREFIX, follow);
