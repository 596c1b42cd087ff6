// What the page does over the whole scroll: shifts that no reader asked for, and long tasks.
window.lanternSeen = { shift: 0, tasks: 0 };
const watch = (type, add) => {
  if (!PerformanceObserver.supportedEntryTypes.includes(type)) return;
  new PerformanceObserver((list) => list.getEntries().forEach(add)).observe({ type });
};
// A header that gets lower moves its own parts, as it is meant to; the page must not move.
const ofHeader = ({ node }) => (node?.closest ? node : node?.parentElement)?.closest("header");
watch("layout-shift", (entry) => {
  if (!entry.sources.length || !entry.sources.every(ofHeader)) window.lanternSeen.shift += entry.value;
});
watch("longtask", (entry) => {
  window.lanternSeen.tasks = Math.max(window.lanternSeen.tasks, entry.duration);
});
return null;
