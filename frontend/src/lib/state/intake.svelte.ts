import { api, ApiError, ask, upload, type Schemas } from '../../api/client';
import { Follower } from './jobs.svelte';
import type { Notices } from './notices.svelte';

export type Preview = Schemas['SurveyPreview'];
export type Layout = Schemas['Layout'];
export type Parts = Schemas['PartsChosen'];
export type Joins = NonNullable<Schemas['ImportIn']['joins']>;
type Upload = Schemas['UploadOut'];

const AGAIN_MS = 700;
const AT_ONCE = 2;

/** What the parts of a file are read as now. */
export function chosenOf(seen: Preview): Parts {
  return { unit: seen.unit, roles: seen.parts.map(({ name, role }) => ({ name, role })) };
}

/** How a file is to become ground, besides how it is read. */
export interface Wishes {
  /** Free: as the points suggest. [m] */
  longest_edge_m: number | null;
  joins: Joins;
  /** Only what lies this near the centreline. [m] */
  within_m: number | null;
  /** Leave out points that the surface of the others gives this well. [m] */
  thin_m: number | null;
  /** Its coordinates are the grid's: bring them to the ground. */
  on_grid: boolean;
  /** The survey whose place it takes. */
  instead: string | null;
}

const NO_WISHES: Wishes = {
  longest_edge_m: null,
  joins: 'alone',
  within_m: null,
  thin_m: null,
  on_grid: false,
  instead: null,
};

/** A survey file on its way in: sent in pieces, looked at by its ends meanwhile, then read by a job. */
export class Intake extends Follower<Schemas['ImportOut']> {
  name = $state('');
  /** How the file reads. */
  seen = $state.raw<Preview | null>(null);
  wishes = $state.raw<Wishes>(NO_WISHES);
  /** What of the file is on the server. [bytes] */
  sent = $state.raw<{ received: number; size: number } | null>(null);
  looking = $state(false);
  problem = $state<string | null>(null);
  /** An import that ended since the page was opened is told of until it is put aside. */
  told = $state.raw<Schemas['ImportOut'] | null>(null);
  #upload: Upload | null = null;
  /** Each file that is chosen has a turn of its own; what belongs to an earlier one is dropped. */
  #turn = 0;
  #whole: Promise<boolean> = Promise.resolve(false);
  #begun: number | null = null;

  constructor(
    notices: Notices,
    /** Told of the revision an import was saved in. */
    private readonly onsaved: (revision: number) => Promise<unknown>,
  ) {
    super(
      notices,
      async (project_id) =>
        (await ask(api.GET('/api/projects/{project_id}/imports/newest', { params: { path: { project_id } } }))).job,
      (now, before) => {
        const live = (job: typeof before) => job?.status === 'waiting' || job?.status === 'running';
        // One that was begun here may be through before it is looked at for the first time.
        const news = now.id === this.#begun || (before?.id === now.id && live(before));
        if (live(now) || !news) return;
        this.#begun = null;
        this.told = now;
        if (now.result?.revision) void this.#saved(now.result.revision);
      },
    );
  }

  whole = $derived(this.sent !== null && this.sent.received === this.sent.size);

  /** Take in a file: send it and look how it reads. */
  async choose(project: number, file: File, joins: Joins): Promise<void> {
    const turn = this.#begin(file.name, joins);
    try {
      const body = { file_name: file.name, size: file.size };
      const path = { project_id: project };
      const begun = await this.#patiently(turn, () =>
        ask(api.POST('/api/projects/{project_id}/uploads', { params: { path }, body })),
      );
      if (turn !== this.#turn) return;
      this.#take(begun);
      const pieces = Math.ceil(begun.size / begun.piece_bytes);
      await this.#send(project, file, begun, pieces > 1 ? [0, pieces - 1] : [0], turn);
      const rest = [...Array(pieces).keys()].slice(1, -1);
      this.#whole = this.#send(project, file, begun, rest, turn);
      if (!(await this.#look(project, turn)) && (await this.#whole))
        await this.#look(project, turn, undefined, undefined, true);
    } catch (error) {
      this.#fail(error, turn);
    }
  }

  /** Look once more at a file that the server has. */
  async again(project: number, survey: Schemas['SurveyOut'], others: boolean): Promise<void> {
    if (survey.upload_id === null) return;
    // The first of several was alone once; to be so again would take the others away.
    const turn = this.#begin(survey.file_name, survey.joins === 'alone' && others ? 'adds' : survey.joins);
    this.wishes = {
      ...this.wishes,
      longest_edge_m: survey.longest_edge_m,
      within_m: survey.within_m,
      thin_m: survey.thinned_m,
      on_grid: survey.on_grid,
      instead: survey.slot,
    };
    this.#upload = { id: survey.upload_id, size: 1, received: 1, piece_bytes: 1 };
    this.#take(this.#upload);
    this.#whole = Promise.resolve(true);
    await this.#look(project, turn, undefined, undefined, true);
  }

  /** Look at it read in another way. */
  async look(project: number, layout?: Layout, parts?: Parts): Promise<void> {
    await this.#look(project, this.#turn, layout, parts, true);
  }

  /** Read the file and make ground of it, once all of it is there. */
  async accept(project: number, revision: number): Promise<void> {
    const [seen, own, turn] = [this.seen, this.#upload, this.#turn];
    if (!seen || !own) return;
    this.problem = null;
    if (!(await this.#whole) || turn !== this.#turn) return;
    const body = {
      revision,
      upload_id: own.id,
      layout: seen.layout,
      parts: seen.layout ? null : chosenOf(seen),
      ...this.wishes,
    };
    const path = { project_id: project };
    this.told = null;
    const start = async (): Promise<void> => {
      const call = () => ask(api.POST('/api/projects/{project_id}/imports', { params: { path }, body }));
      this.#begun = (await this.#patiently(turn, call)).id;
    };
    if (await this.begin(project, start)) this.#drop();
    else this.problem = this.refused;
  }

  /** Leave the file; nothing of it was taken in. */
  putAside(): void {
    this.#turn += 1;
    this.#drop();
  }

  #begin(name: string, joins: Joins): number {
    this.#drop();
    this.name = name;
    this.told = null;
    this.problem = null;
    this.wishes = { ...NO_WISHES, joins };
    return ++this.#turn;
  }

  #drop(): void {
    this.seen = null;
    this.sent = null;
    this.looking = false;
    this.#upload = null;
  }

  #take(now: Upload): void {
    this.#upload = now;
    this.sent = { received: now.received, size: now.size };
  }

  #fail(error: unknown, turn: number): void {
    if (turn !== this.#turn) return;
    this.problem = error instanceof Error ? error.message : String(error);
    this.sent = null;
    this.looking = false;
  }

  /** Send pieces, some at once, each until it has arrived; false where another file was chosen meanwhile. */
  async #send(project: number, file: File, to: Upload, numbers: number[], turn: number): Promise<boolean> {
    const left = [...numbers];
    const send = async (): Promise<void> => {
      for (let number = left.shift(); number !== undefined && turn === this.#turn; number = left.shift()) {
        const part = file.slice(number * to.piece_bytes, (number + 1) * to.piece_bytes);
        const now = await this.#piece(`/api/projects/${project}/uploads/${to.id}/pieces/${number}`, part, turn);
        if (now && turn === this.#turn)
          this.#take({ ...now, received: Math.max(now.received, this.sent?.received ?? 0) });
      }
    };
    try {
      await Promise.all(Array.from({ length: AT_ONCE }, send));
    } catch (error) {
      this.#fail(error, turn);
      return false;
    }
    return turn === this.#turn;
  }

  async #piece(url: string, part: Blob, turn: number): Promise<Upload | null> {
    if (turn !== this.#turn) return null;
    return this.#patiently(turn, () => upload<Upload>(url, part, 'piece', {}));
  }

  /** Do what may be done twice again and again while the server is away, until another file is chosen. */
  async #patiently<T>(turn: number, call: () => Promise<T>): Promise<T> {
    for (;;) {
      try {
        return await call();
      } catch (error) {
        if (!(error instanceof ApiError && error.away) || turn !== this.#turn) throw error;
        await new Promise((again) => setTimeout(again, AGAIN_MS));
      }
    }
  }

  /** False where the file can't be looked at before all of it is there. */
  async #look(project: number, turn: number, layout?: Layout, parts?: Parts, whole = false): Promise<boolean> {
    const own = this.#upload;
    if (!own) return true;
    this.looking = true;
    try {
      const body = { layout: layout ?? null, parts: parts ?? null };
      const path = { project_id: project, upload_id: own.id };
      const seen = await this.#patiently(turn, () =>
        ask(api.POST('/api/projects/{project_id}/uploads/{upload_id}/look', { params: { path }, body })),
      );
      if (turn !== this.#turn) return true;
      this.seen = seen;
      this.problem = null;
    } catch (error) {
      if (!whole && error instanceof ApiError && error.status === 409) return false;
      if (turn === this.#turn) this.problem = error instanceof Error ? error.message : String(error);
    } finally {
      if (turn === this.#turn) this.looking = false;
    }
    return true;
  }

  async #saved(revision: number): Promise<void> {
    try {
      await this.onsaved(revision);
    } catch (error) {
      this.notices.tell(error);
    }
  }
}
