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

  // A length as data: [value, unit], ["sum", ...], ["times", factor, length], ["min" | "max", ...],
  // ["round", strategy, length, step].
  const px = (length, whole = 0) => {
    const [head, ...rest] = length;
    const inner = () => rest.map((part) => px(part, whole));
    if (head === "round") {
      const step = Math.abs(px(rest[2], whole));
      const steps = px(rest[1], whole) / step;
      const ways = { nearest: Math.round, up: Math.ceil, down: Math.floor, "to-zero": Math.trunc };
      return step ? ways[rest[0]](steps) * step : 0;
    }
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

  // The flow of the page: where its sections are, and what the header takes up above them in each
  // of its looks.
  const readFlow = () => {
    const looks = plan.looks || [{ height: [0, "px"] }];
    const inFlow = plan.position === "static" || plan.position === "sticky";
    const fixed = plan.position === "fixed" || plan.position === "sticky";
    const inset = header && plan.position !== "static" ? px(plan.inset, window.innerHeight) : 0;
    const heights = looks.map((look) => Math.max(px(look.height, window.innerHeight), 0));
    const standing = (look) => looks[look].standing ?? look;
    const room = (look) => {
      if (!header || plan.over) return 0;
      if (!inFlow) return Math.max(inset + heights[0], 0);
      return heights[plan.holdSpace ? 0 : standing(look)];
    };
    const lower = (look) => (fixed || "standing" in looks[look] ? inset + heights[look] : 0);
    const boxes = [...sections.values()].map((s) => s.getBoundingClientRect());
    const first = boxes[0].top;
    const total = boxes[boxes.length - 1].bottom - first;
    const range = (look) => Math.max(0, Math.floor(room(look) + total + 0.5) - window.innerHeight);
    const position = (threshold, look) => {
      let edge = 0;
      if (threshold.section) {
        const section = sections.get(threshold.section);
        if (!section) return 0;
        const box = section.getBoundingClientRect();
        const inner = (threshold.edge === "past" ? box.bottom : box.top) - first;
        edge = room(look) + inner - lower(look);
      }
      return edge + px(threshold.offset, range(look));
    };
    const rooms = [...new Set(looks.map((_, look) => room(look)))];
    return { inset, heights, standing, room, boxes, first, total, range, position, rooms };
  };

  // Where each look starts, and where it ends going back up, on the page as it is in the look before.
  const measure = () => {
    const { inset, heights, room, boxes, first, range, position } = readFlow();
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
  // Time is that of the frame, as it is for transitions.
  let shown = { step: 0, share: 1, target: 1, time: 0 };
  const lagged = (step, target) => {
    const { lag } = plan.looks[steps[step].look];
    const now = document.timeline.currentTime;
    let share = lag && shown.step < step ? 0 : target;
    if (lag && shown.step === step) {
      // It has followed what the scroll asked for last; only from now on it follows the target.
      const left = (shown.share - shown.target) * Math.exp((-3 * (now - shown.time)) / lag);
      share = Math.abs(left) < 0.001 ? shown.target : shown.target + left;
    }
    shown = { step, share, target, time: now };
    if (share !== target) requestAnimationFrame(update);
    return share;
  };

  const show = () => {
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
    // The first header keeps its look below a second one that has arrived.
    const standing = (one) => plan.looks[one.standing ?? plan.looks.indexOf(one)];
    const from = progress < 1 ? standing(plan.looks[steps[current - 1].look]) : null;
    // Going back up it is the look that is left whose change runs backwards.
    if (left < current) header.dataset.change = look.name;
    else if (left > current) header.dataset.change = plan.looks[steps[current + 1].look].name;
    if (header.dataset.look !== look.name) header.dataset.look = look.name;
    for (const one of [header, ...arrivals]) one.style.setProperty("--progress", progress);
    for (const one of arrivals) one.toggleAttribute("data-here", one.dataset.arrival === look.name);
    if ("standing" in look) {
      header.dataset.drawn = standing(look).name;
      delete header.dataset.from;
      // The first header stays as it was until the second has come over it.
      clearTimeout(leaving);
      const gone = () => (header.style.visibility = "hidden");
      if (!from) leaving = setTimeout(gone, look.takes);
      else header.style.visibility = "";
      return;
    }
    clearTimeout(leaving);
    header.style.visibility = "";
    header.dataset.drawn = look.name;
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

  // --- layers whose place depends on the ends of the page, or that have a path -------------------

  const style = document.head.appendChild(document.createElement("style"));
  const clamp = (value, low, high) => Math.min(Math.max(value, low), high);

  // The course of an easing as a table, by the browser's own reckoning.
  const tables = new Map();
  const FINE = 256;
  const eased = (easing, share) => {
    if (!tables.has(easing)) {
      const effect = new KeyframeEffect(null, null, { duration: FINE, fill: "both", easing });
      const animation = new Animation(effect, document.timeline);
      animation.pause();
      const progress = (place) => {
        animation.currentTime = place;
        return effect.getComputedTiming().progress;
      };
      tables.set(easing, Array.from({ length: FINE + 1 }, (_, place) => progress(place)));
    }
    const table = tables.get(easing);
    const place = Math.min(Math.floor(share * FINE), FINE - 1);
    return table[place] + (table[place + 1] - table[place]) * (share * FINE - place);
  };

  // A path's stops for this window, and what it adds at a scroll position.
  const pathOf = (layer, width, height, flow) => {
    const points = [];
    for (const stop of layer.path) {
      const last = points[points.length - 1];
      const at = flow.position(stop.at, 0);
      points.push({
        at: last ? Math.max(at, last.at) : at,
        x: px(stop.x, width),
        y: px(stop.y, height),
        scale: stop.scale,
        opacity: stop.opacity,
        easing: stop.easing,
      });
    }
    const first = points[0];
    const last = points[points.length - 1];
    const at = (s) => {
      let index = points.findLastIndex((point) => point.at <= s);
      if (index < 0) index = 0;
      const [from, to] = [points[index], points[index + 1] || points[index]];
      const run = to.at - from.at;
      const share = run > 0 && s > from.at ? eased(from.easing, (s - from.at) / run) : 0;
      const between = (name) => from[name] + (to[name] - from[name]) * share;
      const beyond = layer.rates[0] * Math.min(s - first.at, 0) + layer.rates[1] * Math.max(s - last.at, 0);
      return {
        x: between("x"),
        y: between("y") + beyond,
        scale: Math.max(between("scale"), 0),
        opacity: clamp(between("opacity"), 0, 1),
      };
    };
    const marks = points.flatMap((point, index) => {
      const run = index + 1 < points.length ? points[index + 1].at - point.at : 0;
      const count = run > 0 ? FINE : 0;
      return [point.at - 1e-6, point.at, ...Array.from({ length: count }, (_, n) => point.at + (run * n) / FINE)];
    });
    return { points, at, marks };
  };

  const NO_PATH = { points: [], marks: [], at: () => ({ x: 0, y: 0, scale: 1, opacity: 1 }) };

  // The area that covers what a layer is seen in at every scroll position: with r the distance that
  // its upper edge has gone above the screen's, all that the screen shows of it in the layer's frame.
  const areaOf = (layer, box, tops, reach, path) => {
    const { speed, drift } = layer;
    const screen = window.innerHeight;
    const low = Math.max(reach[0] - box.top, -screen);
    const high = Math.max(Math.min(reach[1] - box.top, box.height), low);
    let [right, left, upper, lower, least] = [-Infinity, Infinity, Infinity, -Infinity, 1];
    for (const top of tops) {
      const from = top + box.top;
      const kinks = [-screen, 0, box.height - screen, box.height, low, high].map((r) => r + from);
      for (const mark of [...kinks, ...path.marks]) {
        const s = clamp(mark, low + from, high + from);
        const r = s - from;
        const { x, y } = path.at(s);
        right = Math.max(right, drift * r + x);
        left = Math.min(left, drift * r + x);
        upper = Math.min(upper, Math.max(0, -r) + speed * r - y);
        lower = Math.max(lower, Math.min(screen, box.height - r) + speed * r - y);
      }
    }
    for (const mark of path.marks) least = Math.min(least, Math.max(path.at(mark).scale, 0.01));
    const width = (box.width + right - left) / least;
    const height = Math.max(lower - upper, 0) / least;
    return {
      left: box.left - right - ((1 - least) / 2) * width - drift * box.top,
      top: upper - ((1 - least) / 2) * height + speed * box.top,
      width,
      height,
    };
  };

  // The size of a picture in its area, before it is rounded and after: CSS Backgrounds 3, section 3.9.
  const sizeOf = ({ fit, size, natural, repeat }, area) => {
    const sides = [area.width, area.height];
    const own = size.map((one, axis) => one && Math.max(px(one, sides[axis]), 0));
    if (!natural) own.forEach((one, axis) => (own[axis] = one ?? sides[axis]));
    else if (fit) {
      const shares = sides.map((side, axis) => side / natural[axis]);
      const scale = fit === "cover" ? Math.max(...shares) : Math.min(...shares);
      own.splice(0, 2, natural[0] * scale, natural[1] * scale);
    } else if (own[0] === null && own[1] === null) own.splice(0, 2, ...natural);
    else if (own[0] === null) own[0] = (natural[0] * own[1]) / natural[1];
    else if (own[1] === null) own[1] = (natural[1] * own[0]) / natural[0];
    const rounded = [...own];
    for (const axis of [0, 1]) {
      if (repeat[axis] !== "round") continue;
      rounded[axis] = sides[axis] / Math.max(Math.floor(sides[axis] / own[axis] + 0.5), 1);
      const other = 1 - axis;
      if (natural && repeat[other] !== "round" && size[other] === null)
        rounded[other] = (natural[other] * rounded[axis]) / natural[axis];
    }
    return [own, rounded];
  };

  // Where in its area a picture stands that is to be in its place at some scroll position; never so
  // that it leaves a gap where it is as large as its area.
  const settled = (layer, section, area, size, tops, reach, flow) => {
    let r = (section.height - window.innerHeight) / 2;
    if (layer.settle) r = flow.position(layer.settle, 0) - tops[0];
    r = clamp(r, ...reach);
    const asked = [
      section.left + px(layer.position[0], section.width - size[0]) - (area.left + layer.drift * r),
      -r + px(layer.position[1], section.height - size[1]) - (area.top - layer.speed * r),
    ];
    const sides = [area.width, area.height];
    return asked.map((place, axis) =>
      size[axis] >= sides[axis] - 1e-6 ? clamp(place, sides[axis] - size[axis], 0) : place,
    );
  };

  const text = (declarations) =>
    Object.entries(declarations)
      .map(([name, value]) => `${name}: ${value};`)
      .join(" ");

  // A path as key frames from one scroll position to another.
  const pathRules = (layer, path, end) => {
    const [first, last] = [Math.min(0, path.points[0].at), Math.max(end, path.points.at(-1).at)];
    const span = Math.max(last - first, 1);
    const declared = ({ x, y, scale, opacity }) => ({
      ...(layer.moves && { transform: `translate(${x}px, ${y}px) scale(${scale})` }),
      opacity: opacity * layer.opacity,
    });
    const frames = [];
    let reached = -1;
    if (first < path.points[0].at) {
      reached = 0;
      frames.push(`0% { ${text(declared(path.at(first)))} }`);
    }
    for (const point of path.points) {
      // Of two key frames at one place only the last would count.
      reached = Math.max(((point.at - first) / span) * 100, reached + 1e-4);
      const inner = { ...declared(point), "animation-timing-function": point.easing };
      frames.push(`${reached.toFixed(6)}% { ${text(inner)} }`);
    }
    if (last > path.points.at(-1).at) frames.push(`100% { ${text(declared(path.at(last)))} }`);
    return {
      frames: `@keyframes ${layer.name}-path { ${frames.join(" ")} }`,
      range: `${first}px ${last}px`,
      share: `(var(--scrolled, 0) - ${first}) / ${span}`,
      still: declared(path.at(0)),
    };
  };

  const layerRules = (layer, flow) => {
    const element = sections.get(layer.section);
    const outer = element && element.getBoundingClientRect();
    const end = flow.range(0);
    const section = outer
      ? { left: outer.left, width: outer.width, height: outer.height }
      : { left: 0, width: root.clientWidth, height: end + window.innerHeight };
    const offset = outer ? outer.top - flow.first : 0;
    const tops = outer ? flow.rooms.map((room) => room + offset) : [0];
    const ends = Math.max(...flow.rooms.map((room) => Math.max(-room, flow.total - window.innerHeight)));
    const low = Math.max(-Math.max(...tops), -window.innerHeight);
    const reach = outer ? [low, Math.max(Math.min(ends - offset, section.height), low)] : [0, end];
    const inset = Math.floor(Math.min(px(layer.inset), section.width / 2, section.height / 2));
    const box = {
      left: section.left + inset,
      top: inset,
      width: section.width - 2 * inset,
      height: section.height - 2 * inset,
    };
    const path = layer.path.length ? pathOf(layer, section.width, section.height, flow) : NO_PATH;
    const declared = {};
    if (layer.free) {
      const area = areaOf(layer, box, tops, reach, path);
      const [asked, size] = sizeOf(layer, area);
      const place = settled(layer, section, area, asked, tops, reach, flow);
      Object.assign(declared, {
        left: `${area.left - box.left}px`,
        right: "auto",
        top: `${area.top - box.top}px`,
        width: `${area.width}px`,
        height: `${area.height}px`,
        "background-size": size.map((side) => `${side}px`).join(" "),
        "background-position": place.map((side) => `${side}px`).join(" "),
      });
    }
    const along = layer.path.length ? pathRules(layer, path, end) : null;
    const names = [layer.timeline && layer.name, along && `${layer.name}-path`].filter(Boolean);
    if (along) Object.assign(declared, along.still);
    if (CSS.supports("animation-timeline: view()")) {
      declared.animation = names.map((name) => `${name} linear both`).join(", ");
      declared["animation-timeline"] = [layer.timeline, along && "scroll(root)"].filter(Boolean).join(", ");
      declared["animation-range"] = [layer.timeline && "cover", along && along.range].filter(Boolean).join(", ");
    } else {
      const shares = [layer.timeline && "var(--cover, 0)", along && along.share].filter(Boolean);
      declared.animation = names.map((name) => `${name} 1s linear both paused`).join(", ");
      declared["animation-delay"] = shares.map((share) => `calc(${share} * -1s)`).join(", ");
    }
    if (!names.length) delete declared.animation;
    return `${along ? along.frames : ""} ${layer.here} { ${text(declared)} }`;
  };

  const placeLayers = () => {
    if (!plan.layers.length) return;
    const flow = readFlow();
    const rules = plan.layers.map((layer) => layerRules(layer, flow)).join("\n");
    const wanted = plan.still ? `@media (prefers-reduced-motion: no-preference) {\n${rules}\n}` : rules;
    if (style.textContent !== wanted) style.textContent = wanted;
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
    if (header) show();
    move();
  };
  const restart = () => {
    if (header) measure();
    placeLayers();
    update();
  };
  window.addEventListener("scroll", update, { passive: true });
  window.addEventListener("resize", restart);
  // A header that changes its height moves the sections, which no scroll event says.
  const resized = new ResizeObserver(move);
  for (const one of [header, ...sections.values()]) if (one) resized.observe(one);
  // Changes take time only once the page has been seen as it is: a reload in the middle of a page
  // restores its scroll position when it has loaded, and nothing shall fade for that.
  const arm = () => requestAnimationFrame(() => requestAnimationFrame(() => (root.dataset.fades = "")));
  window.addEventListener("load", () => {
    restart();
    arm();
  });
  restart();
  root.dataset.lantern = "ready";
})();
