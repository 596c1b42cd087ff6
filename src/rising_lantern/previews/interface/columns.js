// @ts-check
// Columns of whole numbers: base64 of zlib of the differences from row to row, 32 bits each.

export async function unpacked({ names, rows, data }) {
  const bytes = Uint8Array.from(atob(data), (sign) => sign.charCodeAt(0));
  const stream = new Blob([bytes]).stream().pipeThrough(new DecompressionStream("deflate"));
  const steps = new Int32Array(await new Response(stream).arrayBuffer());
  const columns = {};
  names.forEach((name, index) => {
    const column = steps.slice(index * rows, (index + 1) * rows);
    for (let row = 1; row < rows; row += 1) column[row] += column[row - 1];
    columns[name] = column;
  });
  return columns;
}
