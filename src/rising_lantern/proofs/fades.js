// Crosses a threshold, and says which transitions of the header run then: their durations, delays
// and easings, each once. They are brought to their end.
const [at, from, to, container] = arguments;
const header = [...document.querySelectorAll(at)].find((item) => item.checkVisibility());
const frame = () => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)));
const running = () => document.getAnimations().filter((item) =>
  item instanceof CSSTransition && header && header.contains(item.effect.target));
const settle = async () => {
  for (let left = 20; left && running().length; left -= 1) {
    for (const item of running()) item.finish();
    await frame();
  }
};
const go = (top) => (document.querySelector(container || "_") ?? window).scrollTo({ top, behavior: "instant" });
return (async () => {
  go(from);
  await frame();
  await settle();
  go(to);
  await frame();
  const seen = running().map(({ effect }) => {
    const { duration, delay, easing } = effect.getTiming();
    return JSON.stringify([duration, delay, easing]);
  });
  await settle();
  return [...new Set(seen)].map((item) => JSON.parse(item));
})();
