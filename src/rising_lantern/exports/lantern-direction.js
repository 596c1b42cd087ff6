// Holds a look while the reader scrolls one way, in place of any other; lantern.js asks it.
const PREFIX = "lantern";
let going = "down";
let turned; // the furthest position that the reader has reached that way
let holding = false;
let started;

const follow = (position, after) => {
  turned ??= position;
  const gone = going === "down" ? position - turned : turned - position;
  if (gone < 0 && -gone >= after) going = going === "down" ? "up" : "down";
  else if (gone <= 0) return;
  turned = position;
};

const prepare = ({ detail: flow }) => {
  if (flow.signal !== started) [going, turned, holding] = ["down", undefined, false];
  started = flow.signal;
  const index = flow.looks.findIndex((look) => look.going);
  if (index < 0) return;
  const look = flow.looks[index];
  const edge = (name) => flow.meet(look.number(name), flow.looks[index - 1]);
  const start = edge("from");
  const back = look.number("back") ? edge("back") : start;
  const after = flow.px(look.number("after"));
  // The step that holds where one does by its position.
  const over = (step) => {
    const position = flow.scrolled();
    follow(position, after);
    holding = going === look.going && position >= (holding ? back : start);
    look.stands = look.arrive ? flow.steps[step].look.stands : look;
    return holding ? flow.steps.length - 1 : step;
  };
  // Its position alone never brings it.
  flow.steps.push({ look, start: Infinity, blend: 0, over });
};

document.addEventListener(PREFIX, prepare);
