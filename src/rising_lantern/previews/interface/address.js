// @ts-check
// The choices in the address, so that a link shows the same.

const FLAGS = ["motionless", "scriptless", "dark"];

// The pictures of slides and videos that can be shown: each a number and the files that are seen.
const slidesOf = (state, plan) => plan.slides[`${state.page}/${state.viewport}`] ?? [];

/**
 * @param {import("./types").Outline} plan
 */
export function readAddress(plan) {
  const given = new URLSearchParams(location.hash.slice(1));
  const named = (list, name) => list.find((item) => item.name === name)?.name;
  const numbered = (name) => plan.variants.indexOf(given.get(name));
  const state = /** @type {import("./types").State} */ ({
    page: named(plan.pages, given.get("page")) ?? plan.pages[0].name,
    viewport: named(plan.viewports, given.get("viewport")) ?? plan.viewports[0].name,
    variant: Math.max(numbered("variant"), 0),
    beside: numbered("beside"),
    slide: 0,
    at: Math.max(Number.parseInt(given.get("at"), 10) || 0, 0),
    zoom: [1, 2, 4].includes(Number(given.get("zoom"))) ? Number(given.get("zoom")) : 1,
    sight: ["protan", "deutan", "tritan"].includes(given.get("sight")) ? given.get("sight") : "",
    panel: ["findings", "header", "moment"].includes(given.get("panel")) ? given.get("panel") : "findings",
  });
  const pictured = slidesOf(state, plan).find(([, names]) => names === given.get("picture"));
  if (pictured) [state.slide] = pictured;
  const readers = (given.get("reader") ?? "").split(" ");
  for (const flag of FLAGS) state[flag] = readers.includes(flag);
  return state;
}

export const ADDRESSED = [
  "page",
  "viewport",
  "variant",
  "beside",
  "slide",
  "at",
  "zoom",
  "sight",
  "panel",
  ...FLAGS,
];

/**
 * @param {import("./types").State} state
 * @param {import("./types").Outline} plan
 */
export function writeAddress(state, plan) {
  const words = new URLSearchParams({ page: state.page, viewport: state.viewport });
  if (state.variant) words.set("variant", plan.variants[state.variant]);
  if (state.beside >= 0) words.set("beside", plan.variants[state.beside]);
  const pictured = slidesOf(state, plan).find(([number]) => number === state.slide);
  if (state.slide && pictured) words.set("picture", pictured[1]);
  words.set("at", String(Math.round(state.at)));
  if (state.panel !== "findings") words.set("panel", state.panel);
  if (state.zoom !== 1) words.set("zoom", String(state.zoom));
  if (state.sight) words.set("sight", state.sight);
  const readers = FLAGS.filter((flag) => state[flag]);
  if (readers.length) words.set("reader", readers.join(" "));
  const hash = `#${words}`;
  if (hash !== location.hash) history.replaceState(null, "", hash);
}
