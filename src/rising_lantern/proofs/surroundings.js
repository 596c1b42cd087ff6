// What of a site keeps a page from being as planned, whatever element shows it.
const [places] = arguments;
const name = (one) => one.tagName.toLowerCase() + (one.id ? `#${one.id}` : "")
  + [...one.classList].slice(0, 2).map((word) => `.${word}`).join("");
const found = [];
const root = document.scrollingElement;
const isOurs = (one) => one.closest(places.ours);
for (const one of document.querySelectorAll("body, body *")) {
  if (isOurs(one)) continue;
  const style = getComputedStyle(one);
  const tall = one.scrollHeight > one.clientHeight + 1 && one.clientHeight >= innerHeight * 0.6;
  if (!places.scroller && tall && /auto|scroll/.test(style.overflowY) && root.scrollHeight <= innerHeight + 1)
    found.push(`${name(one)} scrolls in place of the window: name it as scroll-container of the page`);
}
if (root.scrollWidth > root.clientWidth + 1) {
  const wide = [...document.querySelectorAll("body *")].filter((one) => !isOurs(one))
    .map((one) => [one, one.getBoundingClientRect()]).filter(([, { right }]) => right > root.clientWidth + 1);
  wide.sort((a, b) => b[1].right - a[1].right);
  if (wide.length) found.push(`${name(wide[0][0])} is ${Math.round(wide[0][1].right - root.clientWidth)} px wider than the window, which scrolls sideways`);
}
const header = [...document.querySelectorAll(places.header || "_")].find((one) => one.checkVisibility());
if (header) {
  const outer = header.getBoundingClientRect();
  for (const one of header.querySelectorAll("*")) {
    if (isOurs(one)) continue;
    const { width, height } = one.getBoundingClientRect();
    const { backgroundColor, backgroundImage } = getComputedStyle(one);
    const covers = width * height > 0.3 * outer.width * outer.height;
    const clear = /^(transparent|rgba\(.*, 0\))$/.test(backgroundColor);
    if (covers && (!clear || backgroundImage !== "none"))
      found.push(`${name(one)} inside the header has a background of its own, ${clear ? "a picture" : backgroundColor}, over the planned one`);
  }
}
const fonts = places.fonts.filter((font) => !document.querySelector(`link[rel~="preload"][href$="${font}"]`));
if (fonts.length) found.push(`${fonts[0]} is not preloaded: letters change their widths when it has come`);
return found;
