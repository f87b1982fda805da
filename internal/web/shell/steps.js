// Steps are what was typed, as lists of [cell, was, is], each of which is taken back as a whole
// and done again. Set writes a value into a cell; a step of which the first cell is no longer
// there ends what can be taken back.
export class Steps {
  #done = [];
  #undone = [];
  #set;
  #there;
  constructor(set, there = () => true) {
    this.#set = set;
    this.#there = there;
  }
  // take notes a step that was done: what was taken back before is done again no more.
  take(step) {
    if (!step.length) return;
    this.#done.push(step);
    this.#undone = [];
  }
  // back takes the last step back, again does it again; both give its first cell, or nothing
  // where there is no step.
  back() {
    return this.#move(this.#done, this.#undone, (x) => x[1], true);
  }
  again() {
    return this.#move(this.#undone, this.#done, (x) => x[2], false);
  }
  #move(from, to, value, backwards) {
    const step = from.pop();
    if (!step || !this.#there(step[0][0])) {
      from.length = 0;
      return undefined;
    }
    for (const x of backwards ? step.toReversed() : step)
      this.#set(x[0], value(x));
    to.push(step);
    return step[0][0];
  }
}
