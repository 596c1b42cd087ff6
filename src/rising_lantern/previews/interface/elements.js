// @ts-check
// Elements by their names. Texts of a plan only ever become text.

/**
 * @param {string} name
 * @param {Record<string, any>} attributes
 * @param {(Node | string | null)[]} children
 * @returns {any}
 */
export function element(name, attributes = {}, ...children) {
  return filled(document.createElement(name), attributes, children);
}

/**
 * @param {string} name
 * @param {Record<string, any>} attributes
 * @param {(Node | string | null)[]} children
 * @returns {any}
 */
export function drawn(name, attributes = {}, ...children) {
  return filled(document.createElementNS("http://www.w3.org/2000/svg", name), attributes, children);
}

function filled(node, attributes, children) {
  for (const [key, value] of Object.entries(attributes)) {
    if (key.startsWith("on")) node.addEventListener(key.slice(2), value);
    else if (value === true) node.setAttribute(key, "");
    else if (value !== false && value !== null && value !== undefined) node.setAttribute(key, value);
  }
  node.append(...children.filter((child) => child !== null && child !== undefined));
  return node;
}

export const byId = (id) => document.getElementById(id);

/**
 * A field, a list of choices or a checkbox.
 * @param {string} id
 * @returns {HTMLInputElement}
 */
export const field = (id) => /** @type {HTMLInputElement} */ (document.getElementById(id));

/**
 * @param {Element} node
 * @param {(Node | string | null)[]} children
 */
export function replaceChildren(node, children) {
  node.replaceChildren(...children.filter((child) => child !== null && child !== undefined));
}

/**
 * Keeps the focus on the same control where a list is drawn again.
 * @param {Element} node
 * @param {(Node | string | null)[]} children
 */
export function redrawn(node, children) {
  const index = [...node.querySelectorAll("button")].indexOf(
    /** @type {HTMLButtonElement} */ (document.activeElement),
  );
  replaceChildren(node, children);
  if (index >= 0) node.querySelectorAll("button")[index]?.focus();
}
