// @ts-check
// Numbers as people read them.

const WHOLE = new Intl.NumberFormat("en", { maximumFractionDigits: 0 });

export const px = (value) => `${WHOLE.format(value)} px`;

export const ratio = (value) => (value === null || value === undefined ? "–" : value.toFixed(2));

export const clamp = (value, low, high) => Math.min(Math.max(value, low), high);

export const counted = (count, word) => `${count} ${word}${count === 1 ? "" : "s"}`;
