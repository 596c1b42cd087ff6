// Runs the videos of a page; they stand where they are paused, or where its reader asks for less
// motion. start() returns a function that stops it.

export function start(root = document.querySelector("[data-lantern-page]")) {
  if (!root || root.lanternVideo) return root?.lanternVideo;
  const videos = [...root.querySelectorAll("[data-lantern=video]")];
  const control = root.querySelector("[data-lantern=pause] input");
  const less = matchMedia("(prefers-reduced-motion: reduce)");
  const follow = () => {
    for (const video of videos) {
      const stands = less.matches && "still" in video.dataset;
      if (stands && video.currentTime > 0) video.load(); // back to its poster
      if (stands || control?.checked || !video.checkVisibility()) video.pause();
      // A browser that does not let it run shows the poster.
      else video.play().catch(() => {});
    }
  };
  const ends = new AbortController();
  const { signal } = ends;
  control?.addEventListener("change", follow, { signal });
  less.addEventListener("change", follow, { signal });
  addEventListener("resize", follow, { passive: true, signal });
  follow();
  return (root.lanternVideo = () => {
    ends.abort();
    for (const video of videos) video.pause();
    delete root.lanternVideo;
  });
}

start();
