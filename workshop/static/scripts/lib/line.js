// What is kept stands in one line: each act begins when the one before has ended, well or badly.
export class Line {
  #last = Promise.resolve();
  #waiting = 0;

  /** `whenFree` is called each time the line has run empty, `onTrouble` with what an act threw. */
  constructor({whenFree = () => {}, onTrouble = () => {}} = {}) {
    this.whenFree = whenFree;
    this.onTrouble = onTrouble;
  }

  get isBusy() { return this.#waiting > 0; }

  /** A promise of what the act gives; of false where it fails. */
  add(act) {
    this.#waiting++;
    this.#last = this.#last.then(act).catch(error => { this.onTrouble(error); return false; }).finally(() => {
      this.#waiting--;
      if (!this.#waiting) this.whenFree();
    });
    return this.#last;
  }
}
