/** The server's end of it is `web/open_line.py`. */
const LINE = '/api/line';
const AGAIN_MS = 20_000;
/** Before an answer stands its status, in eight bytes. */
const STATUS_BYTES = 8;

export interface LineAnswer {
  status: number;
  data: ArrayBuffer;
  /** Where in the data the answer begins. */
  from: number;
}

/**
 * A line to the server that stays open for what is asked at every move of a hand: a request by itself takes a browser
 * 6 to 9 ms more. One question at a time; where there is no line, or it is busy, who asks does so by a request.
 */
export class OpenLine {
  #socket: WebSocket | null = null;
  #answer: ((a: LineAnswer | null) => void) | null = null;
  #tried = -Infinity;

  /** Whether a question can be asked; if there is no line, one is opened for the questions to come. */
  get free(): boolean {
    if (!this.#socket && performance.now() - this.#tried > AGAIN_MS) this.#open();
    return this.#socket?.readyState === WebSocket.OPEN && !this.#answer;
  }

  /** The answer; null if the line was cut off before it came. */
  ask(path: string, units: string, body: string): Promise<LineAnswer | null> {
    return new Promise((answer) => {
      this.#answer = answer;
      this.#socket!.send(`${path}\n${units}\n${body}`);
    });
  }

  #open(): void {
    this.#tried = performance.now();
    const socket = new WebSocket(location.origin.replace(/^http/, 'ws') + LINE);
    socket.binaryType = 'arraybuffer';
    // One that was there comes again as soon as it is wanted; where there is none, that is not tried at each move.
    socket.onopen = () => (this.#tried = -Infinity);
    socket.onmessage = ({ data }: MessageEvent<ArrayBuffer>) => {
      const answer = this.#answer;
      this.#answer = null;
      answer?.({ status: new DataView(data).getUint32(0, true), data, from: STATUS_BYTES });
    };
    socket.onclose = () => {
      this.#socket = null;
      const answer = this.#answer;
      this.#answer = null;
      answer?.(null);
    };
    this.#socket = socket;
  }
}
