// Switches the looks of a header while scrolling; start() returns a function that stops it.
// Numbers are custom properties of lantern.css.

export function start(root = document.querySelector("[data-lantern-page]")) {
  const source = document.querySelector("[data-lantern=plan]");
  if (!root || !source || root.lantern) return root?.lantern;
  const { screens } = JSON.parse(source.textContent);
  let plan, header, arrivals, sections, looks, steps, flow, frame, drawn, shown = {}, index = 0, current = 0;

  // A length in px, as the browser has it; a percentage is of `whole`.
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
    flow = { first, total, looks, room, range, place, px, plan, signal };
  };

  const readSteps = () => {
    const listed = looks.map((look) => [look.name, look.number("from"), look.number("back")]);
    flow.steps = steps = [];
    for (const [name, from, back] of plan.header.steps ?? listed) {
      const look = looks.find((item) => item.name === name);
      if (look.going) continue;
      const before = steps.at(-1);
      const start = before ? Math.max(flow.place(from, before.look), before.start) : -Infinity;
      steps.push({
        look,
        start,
        back: before && back ? flow.place(back, before.look) : start,
        blend: before && look.blend ? px(look.number("blend"), flow.range(before.look)) : 0,
      });
    }
    index = current = Math.min(index, steps.length - 1);
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
    if (!header) return;
    const left = current;
    while (scrollY >= steps[index + 1]?.start) index += 1;
    while (scrollY < steps[index].back) index -= 1;
    current = steps.at(-1).over?.(index) ?? index;
    const { look, start, blend } = steps[current];
    const distance = Math.min(blend, (steps[current + 1]?.start ?? Infinity) - start);
    const share = distance > 0 ? Math.min((scrollY - start) / distance, 1) : 1;
    const progress = lagged(look.lag, share);
    if (progress === drawn && left === current) return;
    drawn = progress;
    const from = (progress < 1 && steps[current - 1]?.look.stands.name) || "";
    const state = { look: look.name, drawn: look.stands.name, from };
    if (left !== current) state.change = steps[Math.max(left, current)].look.name;
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
    root.dispatchEvent(new CustomEvent("lantern", { detail: flow }));
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
  // Nothing fades until the page has been seen.
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
