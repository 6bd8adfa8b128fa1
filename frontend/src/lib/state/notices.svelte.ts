export interface Notice {
  text: string;
  bad: boolean;
}

const GOOD_NEWS_MS = 6000;

/** What has no place of its own on screen. Whatever is refused beside a field or a card is not told here again. */
export class Notices {
  shown = $state.raw<Notice | null>(null);

  /** Good news, or with `stays` what should be read before it goes. */
  say(text: string, stays = false): void {
    const notice = { text, bad: false };
    this.shown = notice;
    if (stays) return;
    // Good news goes by itself; a refusal stays until it was read.
    setTimeout(() => {
      if (this.shown === notice) this.shown = null;
    }, GOOD_NEWS_MS);
  }

  tell(error: unknown): void {
    const text = error instanceof Error ? error.message : String(error);
    if (this.shown?.text !== text) this.shown = { text, bad: true };
  }

  clear(): void {
    this.shown = null;
  }
}
