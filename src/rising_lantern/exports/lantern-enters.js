// Lets texts arrive when they come onto the screen. While they wait they stand elsewhere, where they
// may be cut off: so a mark that stands in their place is observed.
const PREFIX = "lantern";
let root;
let marks = [];
const enter = (signal) => {
  const entrances = new IntersectionObserver((entries) => {
    for (const { isIntersecting, target } of entries) {
      if (!isIntersecting) continue;
      entrances.unobserve(target);
      marks = marks.filter(([mark]) => mark !== target);
      delete target.parentElement.dataset.waiting;
      target.remove();
    }
  });
  marks = [...root.querySelectorAll("[data-enters]")].map((item) => {
    item.dataset.waiting = "";
    return [item.appendChild(document.createElement("i")), item.firstElementChild];
  });
  mark();
  for (const [mark] of marks) entrances.observe(mark);
  signal.addEventListener("abort", () => {
    entrances.disconnect();
    for (const [mark] of marks) {
      delete mark.parentElement.dataset.waiting;
      mark.remove();
    }
    marks = [];
  });
};
// Their places as they are laid out, which no translation changes.
const mark = () => {
  const boxes = marks.map(([, item]) => [item.offsetLeft, item.offsetTop, item.offsetWidth, item.offsetHeight]);
  boxes.forEach(([left, top, width, height], index) => {
    const place = { left: `${left}px`, top: `${top}px`, width: `${width}px`, height: `${height}px` };
    const own = { position: "absolute", "grid-area": "auto", visibility: "hidden", ...place };
    for (const name in own) marks[index][0].style.setProperty(name, own[name], "important");
  });
};

// lantern.js says when it starts, and whenever the page is laid out anew.
let started;
document.addEventListener(PREFIX, ({ detail }) => {
  const { signal } = detail;
  root = detail.root;
  if (signal !== started) enter(signal);
  else mark();
  started = signal;
});
