// Holds a look while the reader scrolls one way, in place of any other; lantern.js asks it.
const root = document.querySelector("[data-lantern-page]");
let going = "down";
let turned = scrollY; // the furthest position that the reader has reached that way
let holding = false;

const follow = (after) => {
  const gone = going === "down" ? scrollY - turned : turned - scrollY;
  if (gone < 0 && -gone >= after) going = going === "down" ? "up" : "down";
  else if (gone <= 0) return;
  turned = scrollY;
};

const prepare = ({ detail: flow }) => {
  const index = flow.looks.findIndex((look) => look.going);
  if (index < 0) return;
  const look = flow.looks[index];
  const edge = (name) => flow.place(look.number(name), flow.looks[index - 1]);
  const start = edge("from");
  const back = look.number("back") ? edge("back") : start;
  const after = flow.px(look.number("after"));
  // The step that holds where one does by its position.
  const over = (step) => {
    follow(after);
    holding = going === look.going && scrollY >= (holding ? back : start);
    look.stands = look.arrive ? flow.steps[step].look.stands : look;
    return holding ? flow.steps.length - 1 : step;
  };
  // Its position alone never brings it.
  flow.steps.push({ look, start: Infinity, blend: 0, over });
};

root?.addEventListener("lantern", prepare);
