// @ts-check
// Where the data comes from: the document itself, or the server that watches the plan.

import { unpacked } from "./columns.js";

const TYPES = {
  avif: "image/avif",
  gif: "image/gif",
  jpeg: "image/jpeg",
  jpg: "image/jpeg",
  png: "image/png",
  svg: "image/svg+xml",
  webp: "image/webp",
  ttf: "font/ttf",
  otf: "font/otf",
  woff: "font/woff",
  woff2: "font/woff2",
  webm: "video/webm",
  mp4: "video/mp4",
};

export const viewKey = ({ variant, page, viewport, slide }) => [variant, page, viewport, slide].join("/");

function blobUrl(text, type) {
  const bytes = Uint8Array.from(atob(text), (sign) => sign.charCodeAt(0));
  return URL.createObjectURL(new Blob([bytes], { type }));
}

export const pictureUrl = (text) => blobUrl(text, "image/webp");

export function embeddedSource(data) {
  const views = new Map();
  const urls = new Map();

  const url = (kind, name, type) => {
    const key = `${kind}:${name}`;
    if (!urls.has(key) && name in data[kind]) urls.set(key, blobUrl(data[kind][name], type));
    return urls.get(key) ?? "";
  };

  return {
    plan: data,
    picture: (name) => url("pictures", name, "image/webp"),
    asset: (name) => url("assets", name, TYPES[name.split(".").pop()] ?? ""),
    hasAsset: (name) => name in data.assets,
    async site(state, variant = state.variant) {
      const own = data.sites[`${variant}/${state.slide}`];
      return own && state.page in own.pages ? own : data.sites[`${variant}/0`];
    },
    later() {},
    async view(state, variant = state.variant) {
      const keys = [viewKey({ ...state, variant }), viewKey({ ...state, variant, slide: 0 })];
      const key = keys.find((item) => item in data.views);
      if (!key) return null;
      if (!views.has(key)) views.set(key, loaded(data.views[key]));
      return views.get(key);
    },
  };
}

/**
 * @param {any} view as it is sent
 * @returns {Promise<import("./types").View>}
 */
export async function loaded(view) {
  return { ...view, columns: await unpacked(view.columns), paths: new Map() };
}

/**
 * @param {import("./types").View} view
 * @param {string} name
 */
export async function gesturePath(view, name) {
  if (!view.paths.has(name)) {
    const { scroll } = await unpacked(view.gestures[name]);
    view.paths.set(name, scroll);
  }
  return view.paths.get(name);
}
