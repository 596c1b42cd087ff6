// Runs the videos of a page; they stand where they are paused, or where its reader asks for less
// motion. start() returns a function that stops it.

const PREFIX = "lantern";

export function start(root = document.querySelector(`[data-${PREFIX}-page]`)) {
  const own = `${PREFIX}-video`;
  if (!root || root[own]) return root?.[own];
  const videos = [...root.querySelectorAll(`.${PREFIX}-video`)];
  const controls = [...root.querySelectorAll(`.${PREFIX}-pause input`)];
  const isPaused = () => controls.some((control) => control.checked);
  const less = matchMedia("(prefers-reduced-motion: reduce)");
  const follow = () => {
    for (const video of videos) {
      const stands = less.matches && "still" in video.dataset;
      if (stands && video.currentTime > 0) video.load(); // back to its poster
      if (stands || isPaused() || !video.checkVisibility()) video.pause();
      // A browser that does not let it run shows the poster.
      else video.play().catch(() => {});
    }
  };
  const ends = new AbortController();
  const { signal } = ends;
  for (const control of controls) control.addEventListener("change", follow, { signal });
  less.addEventListener("change", follow, { signal });
  addEventListener("resize", follow, { passive: true, signal });
  follow();
  return (root[own] = () => {
    ends.abort();
    for (const video of videos) video.pause();
    delete root[own];
  });
}

start();
// Where lantern.js is started for another page.
document.addEventListener(PREFIX, ({ detail: { root, signal } }) => {
  const stop = start(root);
  signal.addEventListener("abort", stop, { once: true });
});
