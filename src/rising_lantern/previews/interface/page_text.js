// An exported page as one document: as it is, and as another reader has it.

const ALWAYS = "(min-width: 0px)";
const NEVER = "(min-width: 1000000px)";
const SCRIPT = /<script [^>]*src="([^"]+)"[^>]*><\/script>/g;
const STYLES = /<link rel="stylesheet" href="[^"]+">/;
// What is in the preview already is not loaded ahead.
const AHEAD = /\s*<link rel="preload" [^>]*>/g;
const ASSET = /assets\/[\w.-]+/g;

// Media features that a frame cannot have by itself are answered in the text of our own code.
function answered(text, state, features) {
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
  let result = text;
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
  const withAssets = (text) =>
    text.replace(ASSET, (name) => (source.hasAsset(name) ? source.asset(name) : "data:,"));
  const css = file(withAssets(answered(site.css, state, site.features)), "text/css");
  let scripts = 0;
  const html = answered(site.pages[state.page], state, site.features)
    .replace(AHEAD, "")
    .replace(STYLES, () => `<link rel="stylesheet" href="${css}">`)
    .replace(SCRIPT, (tag, name) => {
      const text = answered(site.scripts[scripts++], state, site.features);
      return state.scriptless ? "" : tag.replace(name, file(text, "text/javascript"));
    });
  return { html: withAssets(html), release: () => urls.forEach((url) => URL.revokeObjectURL(url)) };
}
