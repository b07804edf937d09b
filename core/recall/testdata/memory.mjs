// Makes memory.json: what the package ts-fsrs answers for 200 random histories of reviews, to hold core/recall/memory.go
// against. Run by ./run reference memory, from a directory in which ts-fsrs is installed.
import { createRequire } from "node:module";

const { FSRS, generatorParameters } = createRequire(`${process.cwd()}/`)("ts-fsrs");
const fsrs = new FSRS(generatorParameters({ enable_fuzz: false, request_retention: 0.9, maximum_interval: 36500 }));

let seed = 20260101;
const random = () => {
  seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
  return seed / 4294967296;
};

const histories = [];
for (let i = 0; i < 200; i++) {
  let state = null;
  const reviews = [];
  const n = 1 + Math.floor(random() * 12);
  for (let k = 0; k < n; k++) {
    const days = k === 0 ? 0 : random() < 0.15 ? 0 : Math.floor(Math.exp(random() * 5));
    const grade = random() < 0.25 ? 1 : 2 + Math.floor(random() * 3);
    const recall = state ? fsrs.forgetting_curve(days, state.stability) : 0;
    state = fsrs.next_state(state, days, grade);
    const interval = fsrs.next_interval(state.stability, days);
    reviews.push({ days, grade, recall, stability: state.stability, difficulty: state.difficulty, interval });
  }
  histories.push(reviews);
}
process.stdout.write(JSON.stringify(histories) + "\n");
