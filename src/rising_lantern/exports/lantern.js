// Switches the looks of a header while scrolling. start() returns a function that stops it, with all
// that the other scripts do: for sites that swap pages without loading them, which stop it before and
// start it for the element of the new page, when its style sheets are there.
const PREFIX = "lantern";

export function start(root = document.querySelector(`[data-${PREFIX}-page]`)) {
  const source = document.querySelector(`[data-${PREFIX}="plan"]`);
  if (!root || !source || root[PREFIX]) return root?.[PREFIX];
  const { screens } = JSON.parse(source.textContent);
  let plan, scroller, header, alone, arrivals, sections, looks, steps, flow, sizes, planned, frame, drawn;
  let shown = {}, index = 0, current = 0;

  // What scrolls: the window, or an element of the site in its place.
  const screen = () => scroller?.clientHeight ?? innerHeight;
  const scrolled = () => scroller?.scrollTop ?? scrollY;
  const edge = () => (scroller ? scroller.getBoundingClientRect().top + scroller.clientTop : 0);

  // A length in px, without a layout; a percentage is of `whole`.
  const ruler = root.appendChild(document.createElement("i"));
  ruler.className = `${PREFIX}-ruler`;
  ruler.style.cssText = "display: none; font: 16px serif";
  const px = (length, whole = screen()) => {
    const plain = length.replace(/([\d.]+)%/g, (_, share) => `${(share * whole) / 100}px`);
    ruler.style.textIndent = 0; // a plain 0 is not a length in calc()
    ruler.style.textIndent = `calc(${plain})`;
    return parseFloat(getComputedStyle(ruler).textIndent);
  };

  const readFlow = () => {
    const style = header && getComputedStyle(header);
    const number = (name) => style?.getPropertyValue(`--${PREFIX}-${name}`).trim();
    looks = (plan.header?.looks ?? [{}]).map((look) => ({
      ...look,
      height: style ? Math.max(px(number(`${look.name}-height`) || number("height")), 0) : 0,
      number: (name) => number(`${look.name}-${name}`),
    }));
    looks.forEach((look, index) => (look.stands = look.arrive ? looks[index - 1].stands : look));
    const position = style?.position;
    const inset = style && position !== "relative" ? px(number("top")) : 0;
    const boxes = sections.map((section) => section[1].getBoundingClientRect());
    sizes = sizesNow();
    const first = boxes[0]?.top ?? 0;
    const total = (boxes.at(-1)?.bottom ?? 0) - first;
    const room = (look) => {
      if (!header || plan.header.over) return 0;
      if (!/relative|sticky/.test(position)) return Math.max(inset + looks[0].height, 0);
      return plan.header.hold ? looks[0].height : look.stands.height;
    };
    // What the site has above and below, where the plan has a part of the page.
    const pinned = !/relative|sticky/.test(position);
    const held = header && !pinned ? header.getBoundingClientRect().height + parseFloat(style.marginBottom) : 0;
    const taken = header && !plan.header.over ? (pinned ? room(looks[0]) : held) : 0;
    const beside = (length) => (Math.abs(length) < 1 ? 0 : length);
    const top = first - edge() + scrolled();
    const above = beside(top - taken);
    // What lies behind the sections is as high as the page was found to be: it does not count.
    const least = plan.header?.container ? px(plan.header.container) : 0;
    const whole = least || root.querySelector(`.${PREFIX}-ground`);
    const below = whole ? 0 : beside((scroller ?? document.documentElement).scrollHeight - top - total);
    const rangeIn = (taken) =>
      Math.max(0, Math.floor(Math.max(above + taken + total + below, least) + 0.5) - screen());
    const range = (look) => rangeIn(room(look));
    const place = (threshold, look = looks[0]) => {
      const [, side, name, rest] = /^(?:(past|reach) (\S+))?(.*)$/.exec(threshold);
      const length = px(side ? `0px${rest}` : rest, range(look));
      const box = boxes[sections.findIndex((section) => section[0] === name)];
      if (!box) return length;
      const stays = /fixed/.test(position) || look.arrive;
      const lower = stays || position === "sticky" ? inset + look.height - (stays ? edge() : 0) : 0;
      return above + room(look) + box[side === "past" ? "bottom" : "top"] - first - lower + length;
    };
    // Engines differ by as much on where an edge is.
    const meet = (...threshold) => {
      const exact = place(...threshold);
      return exact - Math.floor(exact) < 0.1235 ? Math.floor(exact) : exact;
    };
    flow = { root, first, above, looks, room, range, rangeIn, place, meet, px, screen, scrolled, scroller, plan, signal, again };
  };

  const again = () => {
    readSteps();
    settle();
    current = index;
    drawn = NaN;
    show();
  };

  const readSteps = () => {
    const start = (look) => (look.edge ? `${look.edge} + ${look.number("from")}` : look.number("from"));
    const listed = looks.map((look) => [look.name, start(look), look.number("back")]);
    flow.steps = steps = [];
    for (const [name, from, back] of plan.header.steps ?? listed) {
      const look = looks.find((item) => item.name === name);
      if (look.going) continue;
      const before = steps.at(-1);
      const start = before ? Math.max(flow.meet(from, before.look), before.start) : -Infinity;
      steps.push({
        look,
        start,
        back: before && back ? flow.meet(back, before.look) : start,
        blend: before && look.blend ? px(look.number("blend"), flow.range(before.look)) : 0,
      });
    }
    index = current = Math.min(index, steps.length - 1);
  };

  const settle = () => {
    while (scrolled() >= steps[index + 1]?.start) index += 1;
    while (scrolled() < steps[index].back) index -= 1;
  };

  const lagged = (lag, target) => {
    const time = document.timeline.currentTime;
    let share = lag && shown.step < current ? 0 : target;
    if (lag && shown.step === current) {
      const left = (shown.share - shown.target) * Math.exp((-3 * (time - shown.time)) / lag);
      share = shown.target + (Math.abs(left) < 0.001 ? 0 : left);
    }
    shown = { step: current, share, target, time };
    if (share !== target) frame = requestAnimationFrame(show);
    return share;
  };

  const show = () => {
    cancelAnimationFrame(frame);
    if (!header || alone) return;
    const left = current;
    settle();
    current = steps.at(-1).over?.(index) ?? index;
    const { look, start, blend } = steps[current];
    const distance = Math.min(blend, (steps[current + 1]?.start ?? Infinity) - start);
    const share = distance > 0 ? Math.min((scrolled() - start) / distance, 1) : 1;
    const progress = lagged(look.lag, share);
    if (progress === drawn && left === current) return;
    drawn = progress;
    // A header of the flow moves the page under its reader, which no scroll event has to say.
    if (left !== current) frame = requestAnimationFrame(show);
    const from = (progress < 1 && steps[current - 1]?.look.stands.name) || "";
    const state = { look: look.name, drawn: look.stands.name, from };
    if (look.name !== header.dataset.look) state.change = steps[Math.max(left, current)].look.name;
    if (plan.header.css) {
      const states = { look: look.name, from, progress };
      for (const name in states) root.style.setProperty(`--${PREFIX}-${name}`, states[name]);
    }
    for (const name in state) {
      const asked = !plan.header.css || name in header.dataset;
      if (asked && header.dataset[name] !== state[name]) header.dataset[name] = state[name];
    }
    for (const element of [header, ...arrivals]) {
      element.style.setProperty(`--${PREFIX}-progress`, progress);
      element.inert = element === header ? look.arrive : element.dataset.arrival !== look.name;
      element.toggleAttribute("data-here", !element.inert);
    }
  };

  // The sizes on which all depends.
  const sizesNow = () =>
    [root, ...sections.map((section) => section[1])].map((element) => {
      const { width, height } = element.getBoundingClientRect();
      return `${width} ${height}`;
    }).join();

  const restart = () => {
    plan = screens.find(({ media }) => matchMedia(media).matches) ?? screens[0];
    header = root.querySelector(plan.header?.at ?? "_");
    // Where the style sheet switches looks by itself, unless the site asks for data-look.
    alone = plan.header?.css && CSS.supports("animation-timeline: view()") && !header?.matches("[data-look]");
    scroller = document.querySelector(plan.scroller ?? "_");
    listen();
    arrivals = root.querySelectorAll(plan.header?.arrivals ?? "_");
    sections = Object.entries(plan.sections)
      .map(([name, at]) => [name, root.querySelector(at)])
      .filter((section) => section[1]);
    readFlow();
    if (header) readSteps();
    drawn = NaN;
    root.dispatchEvent(new CustomEvent(PREFIX, { detail: flow, bubbles: true }));
    show();
  };

  // Once for each picture, whatever has said that something changes.
  const later = () => {
    cancelAnimationFrame(planned);
    planned = requestAnimationFrame(restart);
  };
  const resized = new ResizeObserver(() => {
    if (sizesNow() !== sizes) later();
  });
  const ends = new AbortController();
  const { signal } = ends;
  const listening = { passive: true, signal };
  let listened;
  const listen = () => {
    const scrolls = header && !alone ? (scroller ?? window) : undefined;
    if (scrolls === listened) return;
    listened?.removeEventListener("scroll", show);
    scrolls?.addEventListener("scroll", show, listening);
    listened = scrolls;
  };
  addEventListener("resize", later, listening);
  restart();
  for (const element of [root, ...sections.map((section) => section[1])]) resized.observe(element);
  // Nothing fades until the page has been seen.
  const seen = () => requestAnimationFrame(() => requestAnimationFrame(() => (root.dataset.fades = "")));
  if (document.readyState === "complete") seen();
  else addEventListener("load", seen, listening);
  delete root.dataset.early;
  document.documentElement.setAttribute(`data-${PREFIX}`, "ready");
  return (root[PREFIX] = () => {
    ends.abort();
    resized.disconnect();
    for (const pending of [frame, planned]) cancelAnimationFrame(pending);
    ruler.remove();
    document.documentElement.removeAttribute(`data-${PREFIX}`);
    delete root[PREFIX];
  });
}

start();
