// Lets the looks of a header follow slides that have tones of their own; lantern.js asks it.
const PREFIX = "lantern";
let root;
let flow, timer;

// The slide of which most is there, and how long it stays so; forever where it is paused.
const leading = ({ at, count, every, half }) => {
  const [animation] = root.querySelector(at)?.getAnimations() ?? [];
  if (!animation) return [0, Infinity];
  const time = (animation.currentTime ?? 0) - half;
  const left = animation.playState === "running" ? every - (((time % every) + every) % every) : Infinity;
  return [(Math.floor(time / every) + 1) % count, left];
};

const follow = () => {
  clearTimeout(timer);
  const { header } = flow.plan;
  if (!header?.tones) return;
  const found = header.tones.map(leading);
  const left = Math.min(...found.map(([, time]) => time));
  if (left < Infinity) timer = setTimeout(follow, left + 1);
  const chosen = header.tones.reduce((index, { count }, place) => index * count + found[place][0], 0);
  const steps = header.sets[chosen];
  if (steps === header.steps) return;
  header.steps = steps;
  flow.again();
};

document.addEventListener(PREFIX, ({ detail }) => {
  root = detail.root;
  const { signal } = detail;
  const isFirst = signal !== flow?.signal;
  flow = detail;
  if (isFirst) {
    const listening = { passive: true, capture: true, signal };
    for (const type of ["change", "scroll", "animationstart"]) addEventListener(type, follow, listening);
    signal.addEventListener("abort", () => clearTimeout(timer));
  }
  follow();
});
