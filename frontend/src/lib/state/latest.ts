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
    while (this.#wish !== null) {
      const question = this.#wish;
      this.#wish = null;
      try {
        this.onAnswer(await this.askFor(question), question);
      } catch (error) {
        // A server that is away is asked again for the same, unless something newer is wanted by then.
        if (error instanceof ApiError && error.away) {
          await new Promise((again) => setTimeout(again, AGAIN_MS));
          this.#wish ??= question;
        } else this.onError(error);
      }
    }
    this.#busy = false;
  }
}
