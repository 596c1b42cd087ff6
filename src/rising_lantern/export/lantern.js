// Switches the header's look along the scroll, and moves layers where CSS alone cannot.
// Everything it knows is in the page's own <script type="application/json">.
"use strict";
(() => {
  const plan = JSON.parse(document.querySelector("script[type='application/json']").textContent);
  const root = document.documentElement;
  const header = document.querySelector("[data-lantern=header]");
  const sections = new Map(
    [...document.querySelectorAll("main > [data-section]")].map((s) => [s.dataset.section, s]),
  );

  // A length as data: [value, unit], ["sum", ...], ["times", factor, length], ["min" | "max", ...].
  const px = (length, whole = 0) => {
    const [head, ...rest] = length;
    const inner = () => rest.map((part) => px(part, whole));
    if (head === "sum") return inner().reduce((a, b) => a + b, 0);
    if (head === "times") return rest[0] * px(rest[1], whole);
    if (head === "min") return Math.min(...inner());
    if (head === "max") return Math.max(...inner());
    const unit = rest[0];
    const w = window.innerWidth / 100;
    const h = window.innerHeight / 100;
    if (unit === "%") return (head * whole) / 100;
    if (unit === "vmin") return head * Math.min(w, h);
    if (unit === "vmax") return head * Math.max(w, h);
    if (unit.endsWith("vw")) return head * w;
    if (unit.endsWith("vh")) return head * h;
    if (unit === "em" || unit === "rem") return head * 16;
    return head * { px: 1, cm: 96 / 2.54, mm: 9.6 / 2.54, q: 2.4 / 2.54, in: 96, pt: 4 / 3, pc: 16 }[unit];
  };

  let switches = [];
  let current = 0;

  // Where each look starts and is given up, on the page as it is while the look before is worn.
  const measure = () => {
    if (!header) return;
    const inFlow = plan.position === "static" || plan.position === "sticky";
    const stays = plan.position === "fixed" || plan.position === "sticky";
    const heights = plan.looks.map((look) => Math.max(px(look.height, window.innerHeight), 0));
    const flow = (index) => (inFlow ? heights[plan.holdSpace ? 0 : index] : 0);
    const boxes = [...sections.values()].map((s) => s.getBoundingClientRect());
    const first = boxes[0].top;
    const total = boxes[boxes.length - 1].bottom - first;
    const range = (index) => Math.max(0, Math.floor(flow(index) + total + 0.5) - window.innerHeight);
    const position = (threshold, worn) => {
      let edge = 0;
      if (threshold.section) {
        const section = sections.get(threshold.section);
        if (!section) return 0;
        const box = section.getBoundingClientRect();
        const inner = (threshold.edge === "past" ? box.bottom : box.top) - first;
        const lower = stays ? px(plan.inset, window.innerHeight) + heights[worn] : 0;
        edge = flow(worn) + inner - lower;
      }
      return edge + px(threshold.offset, range(worn));
    };
    let earliest = -Infinity;
    switches = plan.looks.map((look, index) => {
      if (index === 0) return { start: -Infinity, back: -Infinity, blend: 0 };
      const start = Math.max(position(look.from, index - 1), earliest);
      earliest = start;
      return {
        start,
        back: look.back ? position(look.back, index - 1) : start,
        blend: look.blend ? px(look.blend, range(index - 1)) : 0,
      };
    });
  };

  const wear = () => {
    const s = window.scrollY;
    while (current + 1 < switches.length && s >= switches[current + 1].start) current += 1;
    while (current > 0 && s < switches[current].back) current -= 1;
    const step = switches[current];
    const next = current + 1 < switches.length ? switches[current + 1].start : Infinity;
    const distance = Math.min(step.blend, next - step.start);
    const progress = distance > 0 ? Math.min(Math.max((s - step.start) / distance, 0), 1) : 1;
    const name = plan.looks[current].name;
    if (header.dataset.look !== name) header.dataset.look = name;
    if (progress < 1) header.dataset.from = plan.looks[current - 1].name;
    else delete header.dataset.from;
    header.style.setProperty("--progress", progress);
  };

  // Browsers with scroll-driven animations move layers by CSS; elsewhere this says how far along
  // the same key frames are.
  const moving = CSS.supports("animation-timeline: view()")
    ? []
    : [...document.querySelectorAll("[data-section]")];
  const move = () => {
    if (moving.length) root.style.setProperty("--scrolled", window.scrollY);
    for (const section of moving) {
      const box = section.getBoundingClientRect();
      const share = (window.innerHeight - box.top) / (window.innerHeight + box.height);
      section.style.setProperty("--cover", share);
    }
  };

  // Texts that arrive wait until they come onto the screen.
  const arrivals = new IntersectionObserver((entries) => {
    for (const { isIntersecting, target } of entries) {
      if (!isIntersecting) continue;
      delete target.parentElement.dataset.waiting;
      arrivals.unobserve(target);
    }
  });
  for (const place of document.querySelectorAll("[data-enters]")) {
    place.dataset.waiting = "";
    arrivals.observe(place.firstElementChild);
  }

  const update = () => {
    if (header) wear();
    move();
  };
  const restart = () => {
    measure();
    update();
  };
  window.addEventListener("scroll", update, { passive: true });
  window.addEventListener("resize", restart);
  window.addEventListener("load", restart);
  restart();
  root.dataset.lantern = "ready";
})();
