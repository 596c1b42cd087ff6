// Before the first picture: the look of the header at the top, and what waits for the scripts, which is
// then not seen, for three seconds at most.
(() => {
  const root = document.querySelector("[data-lantern-page]");
  const { screens } = JSON.parse(document.querySelector('[data-lantern="plan"]').textContent);
  const { header } = screens.find(({ media }) => matchMedia(media).matches) ?? screens[0];
  const bar = header?.top && root.querySelector(header.at);
  if (bar) bar.dataset.look = bar.dataset.drawn = header.top;
  root.dataset.early = "";
  setTimeout(() => delete root.dataset.early, 3000);
})();
