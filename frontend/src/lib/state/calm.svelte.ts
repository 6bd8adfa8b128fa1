/** A hand that holds still for so long has its figures at once. */
const STILL_MS = 50;
/** In a steady movement, figures that nobody can read while they change follow twice a second. */
const STEADY_MS = 500;

/** A value followed at once, except while a hand is busy: then when it rests, and twice a second. The last one always. */
export class Calm<T> {
  value: T = $state.raw() as T;
  #next: T;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #shown = 0;

  constructor(first: T) {
    this.value = this.#next = first;
  }

  follow(value: T, busy: boolean): void {
    this.#next = value;
    clearTimeout(this.#timer);
    const due = this.#shown + STEADY_MS - performance.now();
    if (busy) this.#timer = setTimeout(() => this.#show(), Math.min(STILL_MS, due));
    else this.#show();
  }

  #show(): void {
    this.#shown = performance.now();
    this.value = this.#next;
  }
}
