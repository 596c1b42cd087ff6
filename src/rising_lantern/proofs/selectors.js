// The selectors of a list, and a nested selector written out: CSS Nesting 1, section 3. Engines
// differ in whether they say the & that is implied.
const split = (text) => {
  const pieces = [""];
  let depth = 0;
  for (const sign of text) {
    depth += "([".includes(sign) - ")]".includes(sign);
    if (sign === "," && !depth) pieces.push("");
    else pieces[pieces.length - 1] += sign;
  }
  return pieces;
};
const isOurSheet = (file, prefix) =>
  file === `${prefix}.css` || (file.startsWith(`${prefix}-`) && file.endsWith(".css"));
const writtenOut = (selector, parent) => !parent ? selector : split(selector).map((one) =>
  one.includes("&") ? one.replaceAll("&", `:is(${parent})`) : `:is(${parent}) ${one}`).join(", ");
