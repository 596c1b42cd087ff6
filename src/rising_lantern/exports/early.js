// Before the first picture: the look of the header at the top, and what waits for the scripts, which is
// then not seen. Where none has started after three seconds, all stands as it does without them.
(() => {
  const root = document.querySelector("[data-lantern-page]");
  const { screens } = JSON.parse(document.querySelector('[data-lantern="plan"]').textContent);
  const { header } = screens.find(({ media }) => matchMedia(media).matches) ?? screens[0];
  const bar = header?.top && root.querySelector(header.at);
  const safe = bar?.dataset.look;
  const draw = (look) => bar && (bar.dataset.look = bar.dataset.drawn = look);
  draw(header?.top);
  root.dataset.early = "";
  setTimeout(() => {
    if (root.dataset.early === undefined) return;
    delete root.dataset.early;
    draw(safe);
  }, 3000);
})();
