import { ApiError } from '../../api/client';

const AGAIN_MS = 700;

/** Asks one thing at a time; while an answer is awaited only the newest wish is kept. */
export class Latest<Q, A> {
  #wish: Q | null = null;
  #busy = false;

  constructor(
    private readonly askFor: (question: Q) => Promise<A>,
    private readonly onAnswer: (answer: A, question: Q) => void,
    private readonly onError: (error: unknown) => void,
  ) {}

  want(question: Q): void {
    this.#wish = question;
    if (!this.#busy) void this.#work();
  }

  async #work(): Promise<void> {
    this.#busy = true;
    let question = this.#next();
    let asked = question === null ? null : this.#ask(question);
    while (question !== null && asked !== null) {
      const [answer, failed] = await asked;
      // What is wanted by now is asked for first: while this answer is drawn the next one is worked out.
      const then = failed ? null : this.#next();
      asked = then === null ? null : this.#ask(then);
      try {
        if (!failed) this.onAnswer(answer!, question);
        // A server that is away is asked again for the same, unless something newer is wanted by then.
        else if (failed.error instanceof ApiError && failed.error.away) {
          await new Promise((again) => setTimeout(again, AGAIN_MS));
          this.#wish ??= question;
        } else this.onError(failed.error);
      } catch (error) {
        this.onError(error);
      }
      question = then ?? this.#next();
      if (question !== null) asked ??= this.#ask(question);
    }
    this.#busy = false;
  }

  #next(): Q | null {
    const wish = this.#wish;
    this.#wish = null;
    return wish;
  }

  /** The answer, or why there is none. */
  #ask(question: Q): Promise<[A | null, { error: unknown } | null]> {
    return this.askFor(question).then(
      (answer) => [answer, null],
      (error: unknown) => [null, { error }],
    );
  }
}
