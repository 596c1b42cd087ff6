const [within] = arguments;
const own = location.origin;
const foreign = performance.getEntriesByType("resource").map((entry) => entry.name)
  .filter((name) => !name.startsWith(own) && !name.startsWith("data:"));
const hidden = [];
for (const item of document.querySelectorAll(`:is(${within}) :is(a, button)`)) {
  if (!item.checkVisibility({ visibilityProperty: true }) || item.closest("[inert]")) continue;
  item.focus({ focusVisible: true, preventScroll: true });
  // A window that is not active has no visible focus.
  if (document.activeElement !== item || !item.matches(":focus-visible")) continue;
  const style = getComputedStyle(item);
  if (style.outlineStyle === "none" && style.boxShadow === "none") hidden.push(item.outerHTML.slice(0, 120));
  item.blur();
}
return { ...window.lanternSeen, foreign, hidden };
