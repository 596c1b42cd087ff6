// What a page shows where it is scrolled to: boxes, colours, looks.
const [places] = arguments;
const all = (at, within = document) => at ? [...within.querySelectorAll(at)].filter((item) => item.checkVisibility()) : [];
const box = (item) => {
  const { left, top, width, height } = item.getBoundingClientRect();
  return [left, top, width, height];
};
const named = (ats, read, within) => Object.fromEntries(Object.entries(ats)
  .map(([name, at]) => [name, all(at, within)]).filter(([, items]) => items.length)
  .map(([name, items]) => [name, read(items)]));
const first = ([item]) => box(item);

const name = (one) => one.tagName.toLowerCase() + (one.id ? `#${one.id}` : "")
  + [...one.classList].slice(0, 2).map((word) => `.${word}`).join("");
const hasText = (one) => [...one.childNodes].some((node) => node.nodeType === 3 && node.data.trim());
// The colours of all letters in some elements, and of the icons among them: whose, what, which.
const inks = (items) => items.flatMap((item) => [item, ...item.querySelectorAll("*")])
  .filter((one) => one.checkVisibility({ visibilityProperty: true }))
  .flatMap((one) => {
    const style = getComputedStyle(one);
    if (one instanceof SVGGeometryElement) return style.fill === "none" ? [] : [[name(one), "fill", style.fill]];
    if (one instanceof HTMLImageElement) return [[name(one), "picture", one.currentSrc.slice(-80)]];
    return hasText(one) ? [[name(one), one.closest("a") ? "link" : "text", style.color]] : [];
  });
// How much of an element is seen, of 1, by its opacity and those around it up to its section.
const opacity = ([item]) => {
  let seen = 1;
  for (let one = item; one && !one.matches("section, header, body"); one = one.parentElement)
    seen *= +getComputedStyle(one).opacity;
  return seen;
};

const scroller = document.querySelector(places.scroller || "_");
const shown = all(places.header)[0];
const header = all(places.arrived)[0] ?? shown;
const style = header && getComputedStyle(header);
const layers = Object.entries(places.layers).map(([name, at]) => [name, document.querySelector(at)])
  .filter(([, item]) => item);

// What the site itself shows in front of what is planned, whose boxes are not compared.
const foreign = () => {
  const planned = new Set(places.planned.flatMap((at) => [...document.querySelectorAll(at)]));
  const paints = (one) => {
    const { backgroundColor, backgroundImage, borderStyle } = getComputedStyle(one);
    return backgroundImage !== "none" || !/^(rgba\(0, 0, 0, 0\)|transparent)$/.test(backgroundColor) || borderStyle !== "none";
  };
  const replaced = "img, svg, video, canvas, iframe, object, embed, input, select, textarea, button";
  const seen = [];
  for (const one of document.body.querySelectorAll("*")) {
    if (planned.has(one) || one.closest(places.ours) || !one.checkVisibility()) continue;
    // A ground within the header hides what is planned of it; elsewhere it is the site's content.
    if (one.shadowRoot) seen.push(box(one));
    const hides = !one.closest(places.header || "_") && paints(one);
    if (hides || hasText(one) || one.matches(replaced)) seen.push(box(one));
  }
  for (const one of planned) if (hasText(one) && !one.closest(places.ours)) seen.push(box(one));
  return seen;
};

return {
  ready: document.documentElement.getAttribute(places.ready),
  scroll: scroller ? scroller.scrollTop : window.scrollY,
  height: (scroller ?? document.documentElement).scrollHeight,
  size: [window.innerWidth, window.innerHeight],
  look: shown ? (shown.dataset.look ?? getComputedStyle(shown).getPropertyValue(places.look)) : null,
  header: header ? box(header) : null,
  background: style ? style.backgroundColor : null,
  color: style ? style.color : null,
  parts: header ? named(places.parts, first, header) : {},
  inks: header ? named(places.parts, inks, header) : {},
  sections: named(places.sections, first),
  texts: named(places.texts, first),
  letters: named(places.texts, inks),
  opacities: Object.fromEntries(layers.map(([name, item]) => [name, +getComputedStyle(item).opacity])),
  seen: named(places.texts, opacity),
  layers: Object.fromEntries(layers.map(([name, item]) => [name, box(item)])),
  foreign: places.into ? foreign() : [],
};
