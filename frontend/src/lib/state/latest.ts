import { ApiError } from '../../api/client';

const AGAIN_MS = 700;

/** Asks one thing at a time; while an answer is awaited only the newest wish is kept. */
export class Latest<Q, A> {
  #wish: Q | null = null;
  #busy: Promise<void> | null = null;

  constructor(
    private readonly askFor: (question: Q) => Promise<A>,
    private readonly onAnswer: (answer: A, question: Q) => void,
    private readonly onError: (error: unknown) => void,
  ) {}

  want(question: Q): void {
    this.#wish = question;
    this.#busy ??= this.#work();
  }

  /** Resolves when nothing is wanted any more. */
  async settled(): Promise<void> {
    await this.#busy;
  }

  async #work(): Promise<void> {
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
    this.#busy = null;
  }
}
