import type { Edit, Ledger } from '../../api/client';

/** Keys held down try; the save comes when they rest. */
const REST_MS = 450;

/** An edit that is being tried: by the pointer until it lets go, or by keys until they rest. */
export class Trial {
  draft = $state.raw<Edit | null>(null);
  /** Ledger as it was when the trial began. */
  before = $state.raw<Ledger | null>(null);
  #timer: ReturnType<typeof setTimeout> | undefined;

  /** `save` queues an edit of the present line; `ledger` is the one on screen. */
  constructor(
    private readonly save: (edit: Edit) => Promise<string | null>,
    private readonly ledger: () => Ledger | null,
  ) {}

  try(edit: Edit): void {
    if (!this.draft) this.before = this.ledger();
    this.draft = edit;
  }

  /** Try by keys: kept by itself once they rest. */
  nudge(edit: Edit): void {
    this.try(edit);
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => void this.keep(), REST_MS);
  }

  /** Put the line back as it was; true if something was being tried. */
  cancel(): boolean {
    clearTimeout(this.#timer);
    const was = this.draft !== null;
    this.draft = null;
    this.before = null;
    return was;
  }

  /** Save what is being tried: one step to undo. From here it is pending, and the next trial goes on top of it. */
  async keep(): Promise<string | null> {
    clearTimeout(this.#timer);
    const edit = this.draft;
    if (!edit) return null;
    const saved = this.save(edit);
    this.draft = null;
    this.before = null;
    return saved;
  }

  /** Whatever is not part of a trial calls this first, so that no trial is lost by it. */
  flush(): void {
    if (this.draft) void this.keep();
  }
}
