// @ts-check
// Scroll positions: as they are typed, in words, and on another page with the same sections.

import { clamp } from "./numbers.js";

const TYPED = /^\s*(?:(past|reach)\s+(\S+))?\s*([+-]?\s*\d*\.?\d+)?\s*(px|%)?\s*$/i;

// A position that was typed: px, a percentage of the way, or an edge of a section; null for none.
/**
 * @param {string} text
 * @param {import("./types").View} view
 */
export function parsePosition(text, view) {
  const match = TYPED.exec(text);
  if (!match || !text.trim()) return null;
  const [, edge, name, amount, unit] = match;
  const number = amount ? Number(amount.replace(/\s+/g, "")) : 0;
  const length = unit === "%" ? (number / 100) * view.maxScroll : number;
  if (!edge) return amount ? clamp(Math.round(length), 0, view.maxScroll) : null;
  const section = view.sections.find((item) => item.name === name);
  if (!section) return null;
  return clamp(Math.round(section[edge.toLowerCase()] + length), 0, view.maxScroll);
}

/**
 * @param {import("./types").View} view
 * @param {number} at
 */
export function sectionAt(view, at) {
  return view.sections.findLast((item) => item.top <= at) ?? view.sections[0] ?? null;
}

// The position on another page that has the same share of the same section at the screen's top.
/**
 * @param {number} at
 * @param {{ maxScroll: number, sections: import("./types").Section[] }} from
 * @param {{ maxScroll: number, sections: import("./types").Section[] }} to
 */
export function matching(at, from, to) {
  if (at >= from.maxScroll) return to.maxScroll;
  const index = from.sections.findLastIndex((item) => item.top <= at);
  const section = from.sections[index];
  const other = section && to.sections.find((item) => item.name === section.name);
  if (!other || at <= 0) return clamp(at, 0, to.maxScroll);
  const share = (at - section.top) / Math.max(section.height, 1);
  return clamp(Math.round(other.top + share * other.height), 0, to.maxScroll);
}
