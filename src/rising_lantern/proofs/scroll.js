// Scrolls, lets the page's own listeners run, and waits until it has been painted: what fades is
// brought to its end, and what lags behind the scroll is waited for.
const [to, progress, container] = arguments;
// Slides that run stand at the first of them, as in the frames.
for (const item of document.getAnimations()) {
  if (!/-slides-/.test(item.animationName)) continue;
  item.pause();
  item.currentTime = 0;
}
// Videos stand at their poster, or at their first frame.
const videos = [...document.querySelectorAll("video")];
for (const video of videos) {
  video.pause();
  if (video.currentTime > 0) video.load();
}
const poster = (video) => {
  const image = new Image();
  image.src = video.poster;
  return image.decode().catch(() => {});
};
const posters = Promise.all(videos.filter((video) => video.poster).map(poster));
const isThere = (video) => video.poster || video.readyState > 1 || video.error;
// Pictures that are loaded when they come near are waited for.
const isNear = (image) => {
  const { top, bottom } = image.getBoundingClientRect();
  return bottom > 0 && top < innerHeight && image.checkVisibility();
};
const settled = () => {
  const running = document.getAnimations().filter((item) => item instanceof CSSTransition);
  for (const item of running) item.finish();
  const loading = [...document.images].some((image) => !image.complete && isNear(image));
  return !running.length && !loading && videos.every(isThere);
};
const shares = () => [...document.querySelectorAll("header")]
  .map((item) => item.style.getPropertyValue(progress)).join();
const scroller = document.querySelector(container || "_");
const position = () => (scroller ? scroller.scrollTop : window.scrollY);
(scroller ?? window).scrollTo({ top: to, behavior: "instant" });
return posters.then(() => new Promise((done) => {
  // A page that never comes to rest is read as it is.
  let still = 3, last = null, left = 300;
  const wait = () => {
    const now = shares();
    still = settled() && now === last ? still - 1 : 3;
    last = now;
    left -= 1;
    if (still > 0 && left > 0) requestAnimationFrame(wait); else done(position());
  };
  requestAnimationFrame(wait);
}));
