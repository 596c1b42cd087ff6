// What a page of a site shows outside of what is planned: boxes, colours and fonts, by element.
const [places, wanted] = arguments;
const planned = new Set(places.planned.flatMap((at) => [...document.querySelectorAll(at)]));
const isOurs = (one) => one.matches(places.ours);
const isSilent = (one) => /^(SCRIPT|STYLE|LINK|META|TITLE|TEMPLATE|NOSCRIPT)$/.test(one.tagName);
const MOST = 4000;

// Elements that hold something planned are as large as that makes them.
const holders = new Set();
for (const one of [...planned, ...document.querySelectorAll(places.ours)])
  for (let up = one.parentElement; up; up = up.parentElement) holders.add(up);

const name = (one) => one.tagName.toLowerCase() + (one.id ? `#${one.id}` : "")
  + [...one.classList].slice(0, 2).map((word) => `.${word}`).join("");
const found = {};
const elements = {};
const walk = (parent, path) => {
  const counts = {};
  for (const one of parent.children) {
    if (isOurs(one) || isSilent(one)) continue;
    const tag = one.tagName.toLowerCase();
    counts[tag] = (counts[tag] ?? 0) + 1;
    const key = `${path} > ${tag}:nth-of-type(${counts[tag]})`;
    if (planned.has(one) || Object.keys(found).length >= MOST) continue;
    elements[key] = one;
    if (one.checkVisibility()) found[key] = state(one, parent);
    walk(one, key);
  }
};
const state = (one, parent) => {
  const { left, top, width, height } = one.getBoundingClientRect();
  const style = getComputedStyle(one);
  const box = holders.has(one) ? null : [left + scrollX, width, height];
  const down = box && !holders.has(parent) ? top - parent.getBoundingClientRect().top : null;
  return {
    name: name(one),
    box: box && [...box, ...(down === null ? [] : [down])],
    color: style.color,
    "background colour": style.backgroundColor,
    font: `${style.fontWeight} ${style.fontSize} ${style.fontFamily}`,
  };
};

// Our own rules that reach an element, or what it inherits from.
const properties = {
  color: ["color"], "background colour": ["background-color", "background"],
  font: ["font", "font-family", "font-size", "font-weight"],
  box: ["width", "height", "min-height", "margin", "margin-top", "padding", "padding-top", "position", "display", "overflow"],
};
// Each rule with its selector written out, where it is nested: CSS Nesting 1, section 3.
const rules = function* (list, parent = "") {
  for (const rule of list) {
    const within = rule.selectorText ? writtenOut(rule.selectorText, parent) : parent;
    if (rule.style) yield [within, rule.style];
    if (rule.cssRules && (!rule.media || matchMedia(rule.media.mediaText).matches)) yield* rules(rule.cssRules, within);
  }
};
const blamed = ([key, measure]) => {
  const own = [...document.styleSheets].filter((sheet) => isOurSheet((sheet.href ?? "").split("/").at(-1), places.prefix));
  const inherits = measure === "color" || measure === "font";
  const result = [];
  for (let one = elements[key]; one; one = inherits || measure === "box" ? one.parentElement : null) {
    for (const sheet of own) {
      const file = sheet.href.split("/").at(-1);
      for (const [selector, style] of rules(sheet.cssRules)) {
        let matches = false;
        try { matches = one.matches(selector); } catch { continue; }
        for (const property of matches ? properties[measure] : []) {
          const value = style.getPropertyValue(property);
          if (value) result.push(`${file}, ${selector} declares ${property}: ${value}`);
        }
      }
    }
    if (result.length) break;
  }
  return result;
};

return document.fonts.ready.then(() => {
  walk(document.body, "body");
  found.body = { ...state(document.body, document.documentElement), box: null };
  elements.body = document.body;
  return wanted ? wanted.flatMap(blamed) : found;
});
