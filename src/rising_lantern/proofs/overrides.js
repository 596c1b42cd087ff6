// What captures position: fixed (CSS Transforms 1, 6; Filter Effects 1, 5; CSS Contain 2, 3), what
// ends position: sticky (CSS Positioned Layout 3, 6.3), and whose rules declare what ours do.
const [at, position, properties, own] = arguments;
const item = [...document.querySelectorAll(at)].find((one) => one.checkVisibility()) ??
  document.querySelector(at);
if (!item) return [`nothing on the page matches ${at}`];
const name = (one) => one.id ? `#${one.id}`
  : one.tagName.toLowerCase() + [...one.classList].map((word) => `.${word}`).join("");
const found = [];
const capturing = ["transform", "translate", "scale", "rotate", "perspective", "filter", "backdropFilter"];
for (let one = item.parentElement; one; one = one.parentElement) {
  const style = getComputedStyle(one);
  if (position === "fixed") {
    for (const property of capturing) {
      if (style[property] && style[property] !== "none")
        found.push(`${name(one)} has ${property} ${style[property]}, which captures position: fixed`);
    }
    if (/paint|layout|strict|content/.test(style.contain))
      found.push(`${name(one)} has contain: ${style.contain}, which captures position: fixed`);
  }
  if (position === "sticky" && one !== document.documentElement && one !== document.body &&
      /hidden|auto|scroll/.test(style.overflowX + style.overflowY))
    found.push(`${name(one)} has overflow: ${style.overflow}, in which position: sticky never sticks`);
}
const rules = function* (list) {
  for (const rule of list) {
    if (rule.selectorText) yield rule;
    else if (rule.cssRules) yield* rules(rule.cssRules);
  }
};
for (const sheet of document.styleSheets) {
  if (sheet.href && sheet.href.endsWith(`/${own}.css`)) continue;
  let list;
  try { list = sheet.cssRules; } catch { continue; }
  for (const rule of rules(list)) {
    let matches = false;
    try { matches = item.matches(rule.selectorText); } catch { continue; }
    if (!matches) continue;
    for (const property of properties) {
      const value = rule.style.getPropertyValue(property);
      const weight = rule.style.getPropertyPriority(property) ? " !important" : "";
      if (value) found.push(`${rule.selectorText} declares ${property}: ${value}${weight}`);
    }
  }
}
return [...new Set(found)];
