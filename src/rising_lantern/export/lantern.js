// Switches the header's look along the scroll, and moves layers where CSS alone cannot.
// Everything it knows is in the page's own <script type="application/json">.
"use strict";
(() => {
  const plan = JSON.parse(document.querySelector("script[type='application/json']").textContent);
  const root = document.documentElement;
  const header = document.querySelector("[data-lantern=header]");
  const arrivals = [...document.querySelectorAll("[data-arrival]")];
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

  const byName = plan.looks ? Object.fromEntries(plan.looks.map((look, i) => [look.name, i])) : {};
  let steps = [];
  let current = 0;

  // Where each look starts and is given up, on the page as it is while the look before is worn.
  const measure = () => {
    if (!header) return;
    const inFlow = plan.position === "static" || plan.position === "sticky";
    const fixed = plan.position === "fixed" || plan.position === "sticky";
    const inset = px(plan.inset, window.innerHeight);
    const heights = plan.looks.map((look) => Math.max(px(look.height, window.innerHeight), 0));
    const room = (look) => {
      if (plan.over) return 0;
      if (!inFlow) return Math.max(inset + heights[0], 0);
      return heights[plan.holdSpace || plan.looks[look].arrives ? 0 : look];
    };
    const lower = (look) => (fixed || plan.looks[look].arrives ? inset + heights[look] : 0);
    const boxes = [...sections.values()].map((s) => s.getBoundingClientRect());
    const first = boxes[0].top;
    const total = boxes[boxes.length - 1].bottom - first;
    const range = (look) => Math.max(0, Math.floor(room(look) + total + 0.5) - window.innerHeight);
    const position = (threshold, worn) => {
      let edge = 0;
      if (threshold.section) {
        const section = sections.get(threshold.section);
        if (!section) return 0;
        const box = section.getBoundingClientRect();
        const inner = (threshold.edge === "past" ? box.bottom : box.top) - first;
        edge = room(worn) + inner - lower(worn);
      }
      return edge + px(threshold.offset, range(worn));
    };
    const blend = (look, before) =>
      plan.looks[look].blend ? px(plan.looks[look].blend, range(before)) : 0;
    steps = [];
    const add = (look, start, back) => {
      const before = steps[steps.length - 1];
      steps.push({ look, start, back, blend: before ? blend(look, before.look) : 0 });
    };
    if (Object.keys(plan.under).length) {
      const middle = inset + heights[0] / 2;
      [...sections.values()].forEach((section, place) => {
        const last = steps[steps.length - 1];
        const name = plan.under[section.dataset.tone];
        const look = name === undefined ? (last ? last.look : 0) : byName[name];
        if (!last) return add(look, -Infinity, -Infinity);
        if (look === last.look) return;
        const start = Math.max(room(last.look) + boxes[place].top - first - middle, last.start);
        add(look, start, start);
      });
      return;
    }
    plan.looks.forEach((look, index) => {
      if (index === 0) return add(0, -Infinity, -Infinity);
      const start = Math.max(position(look.from, index - 1), steps[index - 1].start);
      add(index, start, look.back ? position(look.back, index - 1) : start);
    });
  };

  // A blend that lags behind the scroll comes 95 % of its way, e^-3, in the time that is given.
  let shown = { step: 0, share: 1, time: 0 };
  const lagged = (step, share) => {
    const { smooth } = plan.looks[steps[step].look];
    const now = performance.now();
    if (!smooth || shown.step !== step) {
      shown = { step, share: smooth && shown.step < step ? 0 : share, time: now };
      if (smooth && shown.share !== share) requestAnimationFrame(update);
      return shown.share;
    }
    const left = (shown.share - share) * Math.exp((-3 * (now - shown.time)) / smooth);
    shown = { step, share: Math.abs(left) < 0.001 ? share : share + left, time: now };
    if (shown.share !== share) requestAnimationFrame(update);
    return shown.share;
  };

  const wear = () => {
    const s = window.scrollY;
    const left = current;
    while (current + 1 < steps.length && s >= steps[current + 1].start) current += 1;
    while (current > 0 && s < steps[current].back) current -= 1;
    const step = steps[current];
    const next = current + 1 < steps.length ? steps[current + 1].start : Infinity;
    const distance = Math.min(step.blend, next - step.start);
    const target = distance > 0 ? Math.min(Math.max((s - step.start) / distance, 0), 1) : 1;
    const progress = lagged(current, target);
    const look = plan.looks[step.look];
    const from = progress < 1 ? plan.looks[steps[current - 1].look] : null;
    // Going back up it is the look that is left whose change runs backwards.
    if (left < current) header.dataset.change = look.name;
    else if (left > current) header.dataset.change = plan.looks[steps[current + 1].look].name;
    if (header.dataset.look !== look.name) header.dataset.look = look.name;
    for (const one of [header, ...arrivals]) one.style.setProperty("--progress", progress);
    for (const one of arrivals) one.toggleAttribute("data-here", one.dataset.arrival === look.name);
    if (look.arrives) {
      // The first header stays as it was until the second has come over it.
      clearTimeout(leaving);
      const gone = () => (header.style.visibility = "hidden");
      if (!from) leaving = setTimeout(gone, look.takes);
      else header.style.visibility = "";
      return;
    }
    clearTimeout(leaving);
    header.style.visibility = "";
    header.dataset.wears = look.name;
    if (from) header.dataset.from = from.name;
    else delete header.dataset.from;
  };
  let leaving = 0;

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
  const entrances = new IntersectionObserver((entries) => {
    for (const { isIntersecting, target } of entries) {
      if (!isIntersecting) continue;
      delete target.parentElement.dataset.waiting;
      entrances.unobserve(target);
    }
  });
  for (const place of document.querySelectorAll("[data-enters]")) {
    place.dataset.waiting = "";
    entrances.observe(place.firstElementChild);
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
