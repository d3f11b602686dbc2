/**
 * The draft in this browser: every change applies at once, is undoable, and is saved on its own. What could not be
 * saved is kept here, in the page and in local storage, until it is.
 */
import { browserHost } from '$lib/host.svelte.ts';
import {
  applyPatch,
  compileProgram,
  fromParts,
  partId,
  PatchError,
  type Operation,
  type Part,
  type PartRef,
  type Program,
  type Finding,
  type Rulebook,
} from '@rigid-rule/core';
import type { FindingsAnswer, FindingsRequest } from '$lib/workers/findings.ts';
import { SvelteMap } from 'svelte/reactivity';

export interface VersionedPart extends Part {
  readonly version: number;
}

interface Step {
  readonly part: PartRef;
  readonly operations: readonly Operation[];
  readonly inverse: readonly Operation[];
  readonly label: string;
  /** Steps of one group, made in one go, are undone together: a drag, a typed word. */
  readonly group: string;
}

/** Someone else changed the part meanwhile: theirs is shown beside ours, and neither is lost. */
export interface Clash {
  readonly theirs: VersionedPart;
  readonly by: string | null;
  readonly ours: unknown;
}

export type SaveState = 'saved' | 'saving' | 'kept here' | 'refused';

interface Pending {
  readonly ref: PartRef;
  operations: Operation[];
}

const saveDelay = 350;
const retryDelay = 4000;
const storageKey = 'rigid-rule:unsaved-edits';

export class Draft {
  /** Parts by id. Bodies are immutable; a change puts a new one. */
  private readonly parts = new SvelteMap<string, VersionedPart>();
  private readonly pending = new Map<string, Pending>();
  private readonly past = $state<Step[]>([]);
  private readonly future = $state<Step[]>([]);
  private previous: Rulebook | undefined;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private sending = false;
  state = $state<SaveState>('saved');
  savedAt = $state<Date>();
  problem = $state<string>();
  readonly clashes = new SvelteMap<string, Clash>();
  readonly editable: boolean;

  readonly rulebook: Rulebook = $derived.by(() => (this.previous = fromParts([...this.parts.values()], this.previous)));
  readonly program: Program = $derived.by(() => {
    browserHost.load(this.rulebook);
    return compileProgram(this.rulebook, browserHost.current);
  });

  /** What the rules as a whole get wrong, as of the last analysis. */
  findings = $state.raw<readonly Finding[]>([]);

  private analyst: Worker | undefined;
  private asked = 0;

  /** Has the rules looked through as they stand, in a worker; an answer that was overtaken is dropped. */
  analyse(): void {
    this.analyst ??= this.hireAnalyst();
    this.analyst.postMessage({ id: ++this.asked, rulebook: JSON.stringify(this.rulebook) } satisfies FindingsRequest);
  }

  private hireAnalyst(): Worker {
    const worker = new Worker(new URL('../../workers/findings.ts', import.meta.url), { type: 'module' });
    worker.addEventListener('message', ({ data }: MessageEvent<FindingsAnswer>) => {
      if (data.id === this.asked) this.findings = data.findings;
    });
    return worker;
  }

  /** Ends what runs beside the page. */
  close(): void {
    this.analyst?.terminate();
    this.analyst = undefined;
  }

  /** The edits that end a finding, as one step of undo for each part. */
  repair({ repair }: Finding): void {
    const group = crypto.randomUUID();
    for (const { part, operations } of repair?.edits ?? []) this.edit(part, operations, repair!.text, group);
  }

  constructor(parts: readonly VersionedPart[], editable: boolean, savedAt: Date | undefined) {
    this.editable = editable;
    this.savedAt = savedAt;
    for (const part of parts) this.parts.set(partId(part), part);
  }

  get canUndo(): boolean {
    return this.past.length > 0;
  }
  get canRedo(): boolean {
    return this.future.length > 0;
  }
  get undoLabel(): string | undefined {
    return this.past.at(-1)?.label;
  }

  part(ref: PartRef): VersionedPart | undefined {
    return this.parts.get(partId(ref));
  }

  /** Applies operations to one part; the same `group` as the last step joins it. */
  edit(ref: PartRef, operations: readonly Operation[], label: string, group: string = crypto.randomUUID()): void {
    if (!this.editable || operations.length === 0) return;
    const inverse = this.apply(ref, operations);
    if (!inverse) return;
    this.future.length = 0;
    const last = this.past.at(-1);
    if (last?.group === group && partId(last.part) === partId(ref))
      this.past[this.past.length - 1] = {
        ...last,
        operations: [...last.operations, ...operations],
        inverse: [...inverse, ...last.inverse],
      };
    else this.past.push({ part: ref, operations, inverse, label, group });
  }

  undo(): void {
    const step = this.past.pop();
    if (step && this.apply(step.part, step.inverse)) this.future.push(step);
  }

  redo(): void {
    const step = this.future.pop();
    if (step && this.apply(step.part, step.operations)) this.past.push(step);
  }

  /** Puts the part's new body and queues the operations; undefined where they do not fit any more. */
  private apply(ref: PartRef, operations: readonly Operation[]): readonly Operation[] | undefined {
    const id = partId(ref);
    const part = this.parts.get(id);
    if (!part) return undefined;
    try {
      const { value, inverse } = applyPatch(part.body, operations);
      this.parts.set(id, { ...part, body: value });
      const waiting = this.pending.get(id);
      if (waiting) waiting.operations.push(...operations);
      else this.pending.set(id, { ref: { kind: ref.kind, key: ref.key }, operations: [...operations] });
      this.keep();
      this.schedule(saveDelay);
      return inverse;
    } catch (e) {
      if (e instanceof PatchError) return undefined;
      throw e;
    }
  }

  private schedule(delay: number): void {
    this.state = this.state === 'kept here' ? 'kept here' : 'saving';
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.save(), delay);
  }

  /** Sends what is pending, part by part. */
  async save(): Promise<void> {
    if (this.sending) return;
    this.sending = true;
    clearTimeout(this.timer);
    try {
      for (const [id, waiting] of [...this.pending]) {
        if (this.clashes.has(id)) continue;
        this.pending.delete(id);
        if (!(await this.send(id, waiting))) break;
      }
    } finally {
      this.sending = false;
      this.keep();
    }
    if (this.pending.size === 0 && this.clashes.size === 0) {
      if (this.state !== 'refused') this.state = 'saved';
    } else if (this.state === 'saving') this.schedule(saveDelay);
  }

  /** False where sending should stop for now. */
  private async send(id: string, waiting: Pending): Promise<boolean> {
    const part = this.parts.get(id)!;
    const body = JSON.stringify({ ...waiting.ref, version: part.version, operations: waiting.operations });
    let answer: Response;
    try {
      answer = await fetch('/api/draft/edits', {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body,
      });
    } catch {
      return this.putBack(
        id,
        waiting,
        'kept here',
        'The network is away. Your changes are kept here and sent when it is back.',
      );
    }
    if (answer.ok) {
      const { version } = (await answer.json()) as { version: number };
      this.parts.set(id, { ...this.parts.get(id)!, version });
      this.savedAt = new Date();
      this.problem = undefined;
      if (this.state !== 'saving') this.state = 'saving';
      return true;
    }
    if (answer.status === 409) {
      const { part: theirs, by } = (await answer.json()) as { part: VersionedPart; by: string | null };
      this.clashes.set(id, { theirs, by, ours: part.body });
      return this.putBack(id, waiting, 'kept here', undefined);
    }
    const said = await answer.json().then(
      (b: { message?: string }) => b.message,
      () => undefined,
    );
    if (answer.status >= 500 || answer.status === 401)
      return this.putBack(id, waiting, 'kept here', said ?? 'The server did not answer. Your changes are kept here.');
    // The server does not take this edit at all: sending it again would not help.
    this.state = 'refused';
    this.problem = said ?? 'This change was not taken.';
    return true;
  }

  private putBack(id: string, waiting: Pending, state: SaveState, problem: string | undefined): false {
    const newer = this.pending.get(id);
    this.pending.set(id, { ref: waiting.ref, operations: [...waiting.operations, ...(newer?.operations ?? [])] });
    this.state = state;
    this.problem = problem;
    if (!this.clashes.has(id)) this.timer = setTimeout(() => void this.save(), retryDelay);
    return false;
  }

  /** Settles a clash: their body stays, or ours goes over it. */
  resolve(id: string, keep: 'ours' | 'theirs'): void {
    const clash = this.clashes.get(id);
    if (!clash) return;
    this.clashes.delete(id);
    this.pending.delete(id);
    const ours = this.parts.get(id)!.body;
    this.parts.set(id, clash.theirs);
    this.past.length = this.future.length = 0;
    if (keep === 'ours') this.edit(clash.theirs, [{ op: 'replace', path: '', value: ours }], 'keep my version');
    else this.schedule(0);
  }

  /** Takes over what the server has for parts that nothing is pending on. */
  refresh(parts: readonly VersionedPart[]): void {
    for (const part of parts) {
      const id = partId(part);
      const known = this.parts.get(id);
      if (!this.pending.has(id) && (!known || known.version < part.version)) this.parts.set(id, part);
    }
  }

  /** Writes what is not saved yet to local storage; a closed tab loses nothing. */
  private keep(): void {
    const list = [...this.pending].map(([id, p]) => ({ ...p, version: this.parts.get(id)!.version }));
    if (list.length === 0) localStorage.removeItem(storageKey);
    else localStorage.setItem(storageKey, JSON.stringify(list));
  }

  /** Takes up edits that an earlier page could not save. */
  takeUpKept(): void {
    if (!this.editable) return;
    const kept = localStorage.getItem(storageKey);
    if (!kept) return;
    localStorage.removeItem(storageKey);
    for (const { ref, operations, version } of JSON.parse(kept) as (Pending & { version: number })[]) {
      const part = this.part(ref);
      // Saved after all, or changed by someone since: applying them again would write over that.
      if (part?.version !== version) continue;
      this.edit(ref, operations, 'changes from before');
    }
  }
}

let current: Draft | undefined;

/** The draft of this browser tab: kept while people go to other areas and come back, so that undo reaches over them. */
export function openDraft(
  parts: readonly VersionedPart[],
  editable: boolean,
  savedAt: Date | undefined,
  inBrowser: boolean,
): Draft {
  if (!inBrowser) return new Draft(parts, editable, savedAt);
  if (current?.editable === editable) current.refresh(parts);
  else current = new Draft(parts, editable, savedAt);
  return current;
}
