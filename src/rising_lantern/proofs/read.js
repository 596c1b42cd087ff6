const [places] = arguments;
const find = (at) => at ? [...document.querySelectorAll(at)].find((item) => item.checkVisibility()) : null;
const box = (item) => {
  const { left, top, width, height } = item.getBoundingClientRect();
  return [left, top, width, height];
};
const boxes = (named) => Object.fromEntries(Object.entries(named)
  .map(([name, at]) => [name, find(at)]).filter(([, item]) => item).map(([name, item]) => [name, box(item)]));
const first = find(places.header);
const header = find(places.arrived) ?? first;
const style = header && getComputedStyle(header);
const layers = Object.entries(places.layers).map(([name, at]) => [name, document.querySelector(at)])
  .filter(([, item]) => item);
return {
  ready: document.documentElement.getAttribute(places.ready),
  scroll: window.scrollY,
  size: [window.innerWidth, window.innerHeight],
  look: first ? first.dataset.look : null,
  header: header ? box(header) : null,
  background: style ? style.backgroundColor : null,
  color: style ? style.color : null,
  parts: header ? Object.fromEntries(Object.entries(places.parts)
    .map(([name, at]) => [name, [...header.querySelectorAll(at)].find((item) => item.checkVisibility())])
    .filter(([, item]) => item).map(([name, item]) => [name, box(item)])) : {},
  sections: boxes(places.sections),
  texts: boxes(places.texts),
  layers: Object.fromEntries(layers.map(([name, item]) => [name, box(item)])),
  opacities: Object.fromEntries(layers.map(([name, item]) => [name, +getComputedStyle(item).opacity])),
};
