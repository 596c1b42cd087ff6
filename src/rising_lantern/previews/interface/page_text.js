// @ts-check
// An exported page as one document: as it is, and as another reader has it.

const ALWAYS = "(min-width: 0px)";
const NEVER = "(min-width: 1000000px)";
const ASSET = /assets\/[\w.-]+/g;
const SAFE_AREA = /env\(\s*safe-area-inset-(top|right|bottom|left)\s*(?:,[^()]*)?\)/g;
// Where a page names files and media features. Everything else in it may be an author's words.
const NAMING = ["src", "srcset", "poster", "media", "style"];

// Media features and lengths that a frame cannot have by itself, answered in our own code.
function answered(text, state, features, safeArea) {
  const answers = new Map([
    ["(prefers-reduced-motion: reduce)", state.motionless],
    ["(prefers-reduced-motion: no-preference)", !state.motionless],
    ["(prefers-color-scheme: dark)", state.dark],
    ["(prefers-color-scheme: light)", !state.dark],
  ]);
  const own = features[state.viewport] ?? "";
  for (const words of Object.values(features)) {
    for (const feature of words.split(" and ")) answers.set(feature, own.includes(feature));
  }
  let result = text.replace(SAFE_AREA, (_, side) => `${safeArea[side] ?? 0}px`);
  for (const [feature, holds] of answers) {
    result = result.replaceAll(feature, holds ? ALWAYS : NEVER);
  }
  return result;
}

export function pageText(site, state, source) {
  const urls = [];
  const file = (text, type) => {
    urls.push(URL.createObjectURL(new Blob([text], { type })));
    return urls.at(-1);
  };
  const { safeArea } = source.plan.viewports.find((item) => item.name === state.viewport);
  const own = (text) =>
    answered(text, state, site.features, safeArea).replace(ASSET, (name) =>
      source.hasAsset(name) ? source.asset(name) : "data:,",
    );

  const page = new DOMParser().parseFromString(site.pages[state.page], "text/html");
  // What is in the preview already is not loaded ahead.
  for (const link of page.querySelectorAll("link[rel=preload]")) link.remove();
  for (const link of page.querySelectorAll("link")) {
    if (link.rel === "stylesheet") link.href = file(own(site.sheets[link.getAttribute("href")]), "text/css");
  }
  for (const name of NAMING) {
    for (const node of page.querySelectorAll(`[${name}]`)) {
      node.setAttribute(name, own(node.getAttribute(name)));
    }
  }
  const scripts = [...page.querySelectorAll("script")].filter((script) => script.hasAttribute("src"));
  for (const script of scripts) {
    if (state.scriptless) script.remove();
    else script.src = file(own(site.scripts[script.getAttribute("src")]), "text/javascript");
  }
  const html = `<!doctype html>${page.documentElement.outerHTML}`;
  return { html, release: () => urls.forEach((url) => URL.revokeObjectURL(url)) };
}
