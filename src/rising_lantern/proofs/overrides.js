// Why an element is not as planned: what captures position: fixed (CSS Transforms 1, 6; Filter
// Effects 1, 5; CSS Contain 2, 3), what ends position: sticky (CSS Positioned Layout 3, 6.3), the
// rules of the site that win over ours, and what the site has in it.
const [ats, position, properties, ours, prefix, expected, within] = arguments;
const name = (one) => one.id ? `#${one.id}`
  : one.tagName.toLowerCase() + [...one.classList].map((word) => `.${word}`).join("");
// The element itself comes first, and last the one that is planned, which may hold it.
const seen = (at) => [...document.querySelectorAll(at)].find((one) => one.checkVisibility());
const at = ats.at(-1);
const holder = seen(at) ?? document.querySelector(at);
const item = ats.map(seen).find(Boolean) ?? holder;
if (!item) {
  const roots = [...document.querySelectorAll("*")].filter((one) => one.shadowRoot);
  const last = at.split(" ").at(-1).replace(/^:is\((.*)\)$/, "$1");
  const held = roots.find((one) => { try { return one.shadowRoot.querySelector(last); } catch { return false; } });
  return [held
    ? `${last} is in the shadow root of ${name(held)}, which no style sheet or script of the page reaches into`
    : `nothing on the page matches ${at}`];
}
const found = [];
const capturing = ["transform", "translate", "scale", "rotate", "perspective", "filter", "backdropFilter"];
for (let one = holder.parentElement; one; one = one.parentElement) {
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

// The cascade: CSS Cascade 5, 6.1. Which rule's value an element has of a property.
const specificity = (selector) => {
  const bare = selector.replace(/:where\([^)]*\)/g, "").replace(/"[^"]*"/g, "");
  const ids = bare.match(/#[\w-]+/g)?.length ?? 0;
  const classes = bare.match(/\.[\w-]+|\[[^\]]*\]|(?<!:):(?!is|not|has|:)[\w-]+/g)?.length ?? 0;
  return ids * 1e6 + classes * 1e3 + (bare.match(/(^|[\s>+~(])[a-z][\w-]*/gi)?.length ?? 0);
};
const rules = [];
const layers = [];
const gather = (list, file, layer, parent = "") => {
  for (const rule of list) {
    if (rule.selectorText) {
      const selector = writtenOut(rule.selectorText, parent);
      const matching = split(selector).filter((one) => { try { return item.matches(one); } catch { return false; } });
      if (matching.length) rules.push({ rule, selector, file, layer, weight: Math.max(...matching.map(specificity)) });
      gather(rule.cssRules ?? [], file, layer, selector);
    } else if (rule.style && !rule.cssRules?.length && parent) {
      if (item.matches(parent)) rules.push({ rule, selector: parent, file, layer, weight: specificity(parent) });
    } else if (rule instanceof CSSLayerBlockRule) {
      if (!layers.includes(rule.name)) layers.push(rule.name);
      gather(rule.cssRules, file, layers.indexOf(rule.name), parent);
    } else if (rule.cssRules && (!rule.media || matchMedia(rule.media.mediaText).matches)) {
      gather(rule.cssRules, file, layer, parent);
    }
  }
};
for (const sheet of document.styleSheets) {
  const file = sheet.href ? sheet.href.split("/").at(-1).split("?")[0] : "a <style> of the page";
  try { gather(sheet.cssRules, file, Infinity); } catch { continue; }
}
const computed = getComputedStyle(item);
for (const property of properties) {
  if (expected[property] && computed.getPropertyValue(property) === expected[property]) continue;
  const ranked = rules.map((one, order) => ({
    ...one, order, value: one.rule.style.getPropertyValue(property),
    insists: one.rule.style.getPropertyPriority(property) === "important",
  })).filter(({ value }) => value);
  ranked.sort((a, b) => b.insists - a.insists
    || (a.insists ? a.layer - b.layer : b.layer - a.layer) || b.weight - a.weight || b.order - a.order);
  const inline = item.style.getPropertyValue(property);
  const insists = item.style.getPropertyPriority(property) === "important";
  if (inline && (insists || !ranked[0]?.insists)) {
    found.push(`style="${property}: ${inline}${insists ? " !important" : ""}" of ${name(item)} itself`);
  } else if (ranked.length && !isOurSheet(ranked[0].file, prefix)) {
    const [{ selector, file, value, insists: strong }] = ranked;
    found.push(`${selector} declares ${property}: ${value}${strong ? " !important" : ""} in ${file}`);
  } else if (!ranked.length && property === "line-height") {
    found.push(`${name(item)} has the site's line height, ${computed.lineHeight}`);
  }
}
// What is in a part or a text: of a box that differs, what makes it larger; of a colour, icons.
for (const inner of holder.querySelectorAll({ box: "br, a", colour: "svg, img" }[within] ?? "_")) {
  if (inner.closest(ours)) continue;
  const tag = inner.tagName.toLowerCase();
  const { padding } = getComputedStyle(inner);
  if (tag === "br") found.push(`${name(holder)} has a <br> in it, which the plan does not know of`);
  else if (tag === "a" && /[1-9]/.test(padding)) found.push(`${name(inner)} in ${name(holder)} is a link with padding ${padding}`);
  else if (tag === "svg") found.push(`${name(inner)} in ${name(holder)} is an icon with a fill of its own: give it fill: currentColor`);
  else if (tag === "img") found.push(`${name(inner)} in ${name(holder)} is a picture, whose colours no style sheet changes`);
}
return [...new Set(found)];
