// Switches the looks of a header while scrolling; start() returns a function that stops it.
// Numbers are custom properties of lantern.css.

export function start(root = document.querySelector("[data-lantern-page]")) {
  const source = document.querySelector("[data-lantern=plan]");
  if (!root || !source || root.lantern) return root?.lantern;
  const { screens } = JSON.parse(source.textContent);
  let plan, header, arrivals, sections, looks, steps, flow, frame, drawn, shown = {}, current = 0;
  // A look that holds in one direction, and the reader's own, with where they last turned round.
  let directed, holds = false, going = "down", turned = 0;

  // The browser says how many px a length comes to; a percentage is of `whole`.
  const ruler = root.appendChild(document.createElement("div"));
  const mark = ruler.appendChild(document.createElement("i"));
  const px = (length, whole = innerHeight) => {
    ruler.style.cssText = `position: fixed; height: ${whole}px; visibility: hidden; font: 16px serif`;
    mark.style.cssText = `position: absolute; top: calc(${length})`;
    return parseFloat(getComputedStyle(mark).top);
  };

  const readFlow = () => {
    const style = header && getComputedStyle(header);
    const number = (name) => style?.getPropertyValue(`--lantern-${name}`).trim();
    looks = (plan.header?.looks ?? [{}]).map((look) => ({
      ...look,
      height: style ? Math.max(px(number(`${look.name}-height`) || number("height")), 0) : 0,
      number: (name) => number(`${look.name}-${name}`),
    }));
    looks.forEach((look, index) => (look.stands = look.arrive ? looks[index - 1].stands : look));
    const position = style?.position;
    const inset = style && position !== "relative" ? px(number("top")) : 0;
    const boxes = sections.map((section) => section[1].getBoundingClientRect());
    const first = boxes[0]?.top ?? 0;
    const total = (boxes.at(-1)?.bottom ?? 0) - first;
    const room = (look) => {
      if (!header || plan.header.over) return 0;
      if (!/relative|sticky/.test(position)) return Math.max(inset + looks[0].height, 0);
      return plan.header.hold ? looks[0].height : look.stands.height;
    };
    const range = (look) => Math.max(0, Math.floor(room(look) + total + 0.5) - innerHeight);
    const place = (threshold, look = looks[0]) => {
      const [, edge, name, rest] = /^(?:(past|reach) (\S+))?(.*)$/.exec(threshold);
      const length = px(edge ? `0px${rest}` : rest, range(look));
      const box = boxes[sections.findIndex((section) => section[0] === name)];
      if (!box) return length;
      const lower = /fixed|sticky/.test(position) || look.arrive ? inset + look.height : 0;
      return room(look) + box[edge === "past" ? "bottom" : "top"] - first - lower + length;
    };
    flow = { first, total, looks, room, range, place, px };
  };

  const readSteps = () => {
    const listed = looks.map((look) => [look.name, look.number("from"), look.number("back")]);
    steps = [];
    directed = null;
    for (const [name, from, back] of plan.header.steps ?? listed) {
      const look = looks.find((item) => item.name === name);
      const before = steps.at(-1);
      const start = before ? Math.max(flow.place(from, before.look), before.start) : -Infinity;
      steps.push({
        look,
        start,
        back: before && back ? flow.place(back, before.look) : start,
        blend: before && look.blend ? px(look.number("blend"), flow.range(before.look)) : 0,
      });
    }
    if (steps.at(-1).look.going) {
      directed = steps.pop();
      directed.start = flow.place(directed.look.number("from"), steps.at(-1).look);
      if (!directed.look.number("back")) directed.back = directed.start;
      directed.after = px(directed.look.number("after"));
    }
    current = Math.min(current, steps.length - 1);
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

  const follow = () => {
    const gone = going === "down" ? scrollY - turned : turned - scrollY;
    if (gone > 0) turned = scrollY;
    if (gone < 0 && -gone >= directed.after) {
      turned = scrollY;
      going = going === "down" ? "up" : "down";
    }
    holds = going === directed.look.going && scrollY >= (holds ? directed.back : directed.start);
  };

  const show = () => {
    cancelAnimationFrame(frame);
    if (!header) return;
    const left = current, held = holds;
    while (scrollY >= steps[current + 1]?.start) current += 1;
    while (scrollY < steps[current].back) current -= 1;
    if (directed) follow();
    const { look, start, blend } = holds ? directed : steps[current];
    const stands = holds && look.arrive ? steps[current].look.stands : look.stands;
    const distance = holds ? 0 : Math.min(blend, (steps[current + 1]?.start ?? Infinity) - start);
    const share = distance > 0 ? Math.min((scrollY - start) / distance, 1) : 1;
    const progress = lagged(look.lag, share);
    if (progress === drawn && left === current && held === holds) return;
    drawn = progress;
    const from = (progress < 1 && steps[current - 1]?.look.stands.name) || "";
    const state = { look: look.name, drawn: stands.name, from };
    if (held !== holds) state.change = directed.look.name;
    else if (left !== current) state.change = steps[Math.max(left, current)].look.name;
    for (const name in state) {
      if (header.dataset[name] !== state[name]) header.dataset[name] = state[name];
    }
    for (const element of [header, ...arrivals]) {
      element.style.setProperty("--lantern-progress", progress);
      element.inert = element === header ? look.arrive : element.dataset.arrival !== look.name;
      element.toggleAttribute("data-here", !element.inert);
    }
  };

  const restart = () => {
    plan = screens.find(({ media }) => matchMedia(media).matches) ?? screens[0];
    header = root.querySelector(plan.header?.at ?? "_");
    arrivals = root.querySelectorAll(plan.header?.arrivals ?? "_");
    sections = Object.entries(plan.sections)
      .map(([name, at]) => [name, root.querySelector(at)])
      .filter((section) => section[1]);
    readFlow();
    if (header) readSteps();
    drawn = NaN;
    root.dispatchEvent(new CustomEvent("lantern", { detail: { ...flow, plan, signal } }));
    show();
  };

  const resized = new ResizeObserver(restart);
  const ends = new AbortController();
  const { signal } = ends;
  const listening = { passive: true, signal };
  addEventListener("scroll", show, listening);
  addEventListener("resize", restart, listening);
  restart();
  for (const element of [root, ...sections.map((section) => section[1])]) resized.observe(element);
  // Nothing fades until the page has been seen as it is.
  const seen = () => requestAnimationFrame(() => requestAnimationFrame(() => (root.dataset.fades = "")));
  if (document.readyState === "complete") seen();
  else addEventListener("load", seen, listening);
  document.documentElement.dataset.lantern = "ready";
  return (root.lantern = () => {
    ends.abort();
    resized.disconnect();
    cancelAnimationFrame(frame);
    ruler.remove();
    delete document.documentElement.dataset.lantern;
    delete root.lantern;
  });
}

start();
