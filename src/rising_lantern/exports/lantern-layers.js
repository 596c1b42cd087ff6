// Places layers where CSS alone cannot: those whose place depends on the ends of the page, or that
// have a path; and says how high sections are that are as high as what is in them.
const PREFIX = "lantern";
let root;
const driven = CSS.supports("animation-timeline: view()");
const clamp = (value, low, high) => Math.min(Math.max(value, low), high);

// The course of an easing as a table, by the browser's own reckoning.
const FINE = 256;
const tables = new Map();
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
    const at = flow.place(stop.at);
    points.push({
      ...stop,
      at: Math.max(at, points.at(-1)?.at ?? at),
      x: flow.px(stop.x, width),
      y: flow.px(stop.y, height),
    });
  }
  const [first, last] = [points[0], points.at(-1)];
  const at = (scroll) => {
    const index = Math.max(points.findLastIndex((point) => point.at <= scroll), 0);
    const [from, to] = [points[index], points[index + 1] ?? points[index]];
    const run = to.at - from.at;
    const share = run > 0 && scroll > from.at ? eased(from.easing, (scroll - from.at) / run) : 0;
    const between = (name) => from[name] + (to[name] - from[name]) * share;
    const before = layer.rates[0] * Math.min(scroll - first.at, 0);
    const beyond = layer.rates[1] * Math.max(scroll - last.at, 0);
    return {
      x: between("x"),
      y: between("y") + before + beyond,
      scale: Math.max(between("scale"), 0),
      opacity: clamp(between("opacity"), 0, 1),
    };
  };
  const marks = points.flatMap((point, index) => {
    const run = (points[index + 1]?.at ?? point.at) - point.at;
    const inner = Array.from({ length: run > 0 ? FINE : 0 }, (_, n) => point.at + (run * n) / FINE);
    return [point.at - 1e-6, point.at, ...inner];
  });
  return { points, at, marks };
};

const NO_PATH = { points: [], marks: [], at: () => ({ x: 0, y: 0, scale: 1, opacity: 1 }) };

// The area that covers what a layer is seen in at every scroll position: with r the distance that
// its upper edge has gone above the screen's, all that the screen shows of it in the layer's frame.
const areaOf = ({ speed, drift = 0 }, box, tops, reach, path, screen) => {
  const low = Math.max(reach[0] - box.top, -screen);
  const high = Math.max(Math.min(reach[1] - box.top, box.height), low);
  let [right, left, upper, lower, least] = [-Infinity, Infinity, Infinity, -Infinity, 1];
  for (const top of tops) {
    const from = top + box.top;
    const kinks = [-screen, 0, box.height - screen, box.height, low, high].map((r) => r + from);
    for (const mark of [...kinks, ...path.marks]) {
      const scroll = clamp(mark, low + from, high + from);
      const r = scroll - from;
      const { x, y } = path.at(scroll);
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
const sizeOf = ({ fit, size, natural, repeat }, area, px) => {
  const sides = [area.width, area.height];
  const own = size.map((side, axis) => side && Math.max(px(side, sides[axis]), 0));
  if (!natural) own.forEach((side, axis) => (own[axis] = side ?? sides[axis]));
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

// A length of which a percentage counts the room that is left, which may be less than nothing.
const placeIn = (room, length, px) => {
  if (room >= 0) return px(length, room);
  const fixed = px(length, 0);
  return fixed + ((px(length, 1e4) - fixed) / 1e4) * room;
};

// Where in its area a picture stands that is to be in its place at some scroll position; never so
// that it leaves a gap where it is as large as its area.
const settled = (layer, section, area, size, tops, reach, flow) => {
  const at = layer.settle ? flow.place(layer.settle) - tops[0] : (section.height - flow.screen()) / 2;
  const r = clamp(at, ...reach);
  const across = placeIn(section.width - size[0], layer.position[0], flow.px);
  const down = placeIn(section.height - size[1], layer.position[1], flow.px);
  const asked = [
    section.left + across - (area.left + (layer.drift ?? 0) * r),
    down - r - (area.top - layer.speed * r),
  ];
  const sides = [area.width, area.height];
  return asked.map((place, axis) =>
    size[axis] >= sides[axis] - 1e-6 ? clamp(place, sides[axis] - size[axis], 0) : place,
  );
};

// Declarations as text. Where they insist on the site's other rules, key frames lose to them: what
// is animated goes through custom properties then, which the style sheet has registered.
const text = (declarations, insists = false) =>
  Object.entries(declarations)
    .map(([name, value]) => `${name}: ${value}${insists && !name.startsWith("--") ? " !important" : ""};`)
    .join(" ");
const now = (name) => `--${PREFIX}-now-${name}`;
const renamed = (declarations) => Object.fromEntries(Object.entries(declarations).map(([name, value]) => [now(name), value]));

// A path as key frames from one scroll position to another.
const pathRules = (layer, path, end, insists) => {
  const [first, last] = [Math.min(0, path.points[0].at), Math.max(end, path.points.at(-1).at)];
  const span = Math.max(last - first, 1);
  const plain = ({ x, y, scale, opacity }) => ({
    ...(layer.moves && { transform: `translate(${x}px, ${y}px) scale(${scale})` }),
    opacity: opacity * (layer.opacity ?? 1),
  });
  const declared = (state) => (insists ? renamed(plain(state)) : plain(state));
  const read = Object.fromEntries(Object.keys(plain(path.at(0))).map((name) => [name, `var(${now(name)})`]));
  const frames = [];
  let reached = -1;
  if (first < path.points[0].at) {
    reached = 0;
    frames.push(`0% { ${text(declared(path.at(first)))} }`);
  }
  for (const point of path.points) {
    // Of two key frames at one place only the last would count.
    reached = Math.max(((point.at - first) / span) * 100, reached + 1e-4);
    // An easing leads from its stop to the next one; beyond the last the rate is even.
    const easing = point === path.points.at(-1) ? "linear" : point.easing;
    const inner = { ...declared(point), "animation-timing-function": easing };
    frames.push(`${reached.toFixed(6)}% { ${text(inner)} }`);
  }
  if (last > path.points.at(-1).at) frames.push(`100% { ${text(declared(path.at(last)))} }`);
  return {
    frames: `@keyframes ${PREFIX}-path-${layer.name} { ${frames.join(" ")} }`,
    range: `${first}px ${last}px`,
    share: `(var(--${PREFIX}-scrolled, 0) - ${first}) / ${span}`,
    still: { ...declared(path.at(0)), ...(insists && read) },
  };
};

// The rule of one layer for the size of the window; `outer` is the box of its section.
const layerRule = (layer, flow, outer) => {
  const { insists } = flow.plan;
  const end = flow.range(flow.looks[0]);
  const screen = flow.screen();
  const section = outer
    ? { left: outer.left, width: outer.width, height: outer.height }
    : { left: 0, width: document.documentElement.clientWidth, height: end + screen };
  const offset = outer ? outer.top - flow.first : 0;
  const rooms = [...new Set(flow.looks.map((look) => flow.room(look)))];
  const tops = outer ? rooms.map((room) => flow.above + room + offset) : [0];
  const ends = Math.max(...rooms.map((room) => flow.rangeIn(room) - flow.above - room));
  const low = Math.max(-Math.max(...tops), -screen);
  const reach = outer ? [low, Math.max(Math.min(ends - offset, section.height), low)] : [0, end];
  const border = layer.inset ? flow.px(layer.inset) : 0;
  const inset = Math.floor(Math.min(border, section.width / 2, section.height / 2));
  const box = {
    left: section.left + inset,
    top: inset,
    width: section.width - 2 * inset,
    height: section.height - 2 * inset,
  };
  const path = layer.path ? pathOf(layer, section.width, section.height, flow) : NO_PATH;
  const declared = {};
  let video = "";
  if (insists && layer.frames) Object.assign(declared, layer.moved);
  if (layer.free) {
    const area = areaOf(layer, box, tops, reach, path, screen);
    const [asked, size] = sizeOf(layer, area, flow.px);
    const place = settled(layer, section, area, asked, tops, reach, flow);
    Object.assign(declared, {
      left: `${area.left - box.left}px`,
      right: "auto",
      bottom: "auto",
      top: `${area.top - box.top}px`,
      width: `${area.width}px`,
      height: `${area.height}px`,
      "background-size": size.map((side) => `${side}px`).join(" "),
      "background-position": place.map((side) => `${side}px`).join(" "),
    });
    if (layer.video) {
      const [left, top] = place.map((side) => `${side}px`);
      const [width, height] = size.map((side) => `${side}px`);
      const whole = { "object-fit": "fill", "object-position": "0 0", translate: "none" };
      const places = { inset: "auto", left, top, width, height, ...whole };
      video = ` ${SPECIFIC} ${layer.here} > .${PREFIX}-video { ${text(places, insists)} }`;
    }
  }
  const along = layer.path && pathRules(layer, path, end, insists);
  const moves = layer.frames && { name: layer.frames, line: `--${PREFIX}-timeline`, range: "cover" };
  const line = `scroll(${flow.scroller ? "nearest" : "root"})`;
  const follows = along && { name: `${PREFIX}-path-${layer.name}`, line, range: along.range };
  const runs = [moves, follows].filter(Boolean);
  if (along) Object.assign(declared, along.still);
  if (runs.length && driven) {
    declared.animation = runs.map(({ name }) => `${name} linear both`).join(", ");
    declared["animation-timeline"] = runs.map(({ line }) => line).join(", ");
    declared["animation-range"] = runs.map(({ range }) => range).join(", ");
  } else if (runs.length) {
    const shares = [moves && `var(--${PREFIX}-cover, 0)`, along?.share].filter(Boolean);
    declared.animation = runs.map(({ name }) => `${name} 1s linear both paused`).join(", ");
    declared["animation-delay"] = shares.map((share) => `calc(${share} * -1s)`).join(", ");
  }
  return `${along?.frames ?? ""} ${SPECIFIC} ${layer.here} { ${text(declared, insists)} }${video}`;
};

// More specific than the style sheet's own rules.
const SPECIFIC = ":root:root:root:root:root";
const sheet = new CSSStyleSheet();

const place = (flow) => {
  const { plan } = flow;
  const find = (name) => (name ? root.querySelector(plan.sections[name]) : null);
  // All is read before anything is written, so that the page is laid out once.
  const boxes = {};
  for (const name in plan.sections) boxes[name] = find(name)?.getBoundingClientRect();
  const rules = (plan.layers ?? []).map((layer) => layerRule(layer, flow, boxes[layer.section]));
  if (flow.scroller) root.style.setProperty(`--${PREFIX}-screen`, `${flow.screen()}px`);
  for (const name in plan.sections) {
    const height = plan.measured?.includes(name) ? `${boxes[name].height}px` : "";
    root.style.setProperty(`--${PREFIX}-section-${name}`, height);
  }
  const media = plan.still ? "screen and (prefers-reduced-motion: no-preference)" : "screen";
  const own = `@media ${media} { ${rules.join("\n")} }`;
  sheet.replaceSync(plan.insists ? `@layer ${PREFIX} { ${own} }` : own);
};

// lantern.js says where everything is when it starts, and whenever that changes.
document.addEventListener(PREFIX, ({ detail }) => {
  root = detail.root;
  if (!document.adoptedStyleSheets.includes(sheet)) {
    document.adoptedStyleSheets.push(sheet);
    detail.signal.addEventListener("abort", () => {
      const { style } = detail.root;
      style.removeProperty(`--${PREFIX}-screen`);
      for (const name in detail.plan.sections) style.removeProperty(`--${PREFIX}-section-${name}`);
      document.adoptedStyleSheets = document.adoptedStyleSheets.filter((item) => item !== sheet);
    });
  }
  place(detail);
});
