/**
 * The draft in this browser: every change applies at once, is undoable, and is saved on its own. Edits of others come
 * in as they are made.
 */
import { browserHost } from '$lib/host.svelte.ts';
import type { Finding } from '@rigid-rule/core/analysis';
import { compileProgram, recompileProgram, type Program } from '@rigid-rule/core/compile';
import {
  sameJson,
  creating,
  editPartBody,
  fromParts,
  partId,
  PatchError,
  removing,
  settingsKey,
  type Acceptance,
  type MappingTable,
  type Operation,
  type PartBody,
  type PartKind,
  type PartRef,
  type Rulebook,
} from '@rigid-rule/core/document';
import { SvelteMap } from 'svelte/reactivity';
import { draftPartProblem } from '$lib/draft-part.ts';
import {
  keepsTable,
  mayEditPart,
  type EditRights,
  type PartEdited,
  type RemoteEdit,
  type VersionedPart,
} from '$lib/draft-protocol.ts';
import type { Coverage } from '@rigid-rule/core/rule-tests';
import type { TestLineResult } from '$lib/workers/findings.ts';
import { Analyst } from './analyst.ts';
import { failuresByTest } from './test-results.ts';
import { takenBack, type PartChange, type PartEdit, type Step } from './parts.ts';
import { keepIn, type KeptEdit } from './kept-edits.ts';
import { keepNoSteps, keepStepsIn, type KeptSteps, type Steps } from './kept-steps.ts';
import { Saver, type SaverPorts } from './saver.svelte.ts';

export interface DraftRights extends EditRights {
  readonly savedAt?: Date | undefined;
  /** Email of who edits: edits that wait in this browser are theirs alone. */
  readonly owner: string;
}

export class Draft {
  /** Parts by id. Bodies are immutable; a change puts a new one. */
  private readonly parts = new SvelteMap<string, VersionedPart>();
  private readonly past = $state<Step[]>([]);
  private readonly future = $state<Step[]>([]);
  private previous: Rulebook | undefined;
  private lastProgram: Program | undefined;
  readonly saver: Saver;
  private readonly rights: EditRights;
  /** All of it may be changed. */
  readonly editable: boolean;
  readonly owner: string;
  /** Who changed what last, besides us. */
  lastRemoteEdit = $state<{ readonly by: string; readonly what: string }>();
  /** What could not be undone, in words. */
  refusal = $state<string>();
  /** What the last undo or redo did, until something else is done. */
  said = $state<string>();

  readonly rulebook: Rulebook = $derived.by(() => (this.previous = fromParts([...this.parts.values()], this.previous)));
  readonly program: Program = $derived.by(() => {
    browserHost.load(this.rulebook);
    const host = browserHost.current;
    return (this.lastProgram =
      this.lastProgram?.host === host
        ? recompileProgram(this.lastProgram, this.rulebook)
        : compileProgram(this.rulebook, host));
  });

  /** What the rules as a whole get wrong, as of the last analysis; accepted ones carry their reason. */
  allFindings = $state.raw<readonly Finding[]>([]);
  readonly findings = $derived(this.allFindings.filter((f) => f.accepted === undefined));
  /** Every case of every test, as of the last analysis. */
  testLines = $state.raw<readonly TestLineResult[]>([]);
  /** What each test expects and does not get, by its key. */
  readonly testResults: ReadonlyMap<string, readonly string[]> = $derived.by(() => failuresByTest(this.testLines));
  /** What the tests reach. */
  coverage = $state.raw<Coverage>();
  /** Keys of the rules that act in some case of a test, by the test's key. */
  acting = $state.raw<ReadonlyMap<string, ReadonlySet<string>>>(new Map());
  /** Whether findings and test results are there at all. */
  analysed = $state(false);
  private readonly analyst = new Analyst(({ findings, tests, coverage, acting }) => {
    this.analysed = true;
    this.allFindings = findings;
    this.testLines = tests;
    this.coverage = coverage;
    this.acting = new Map(acting.map(([test, rules]) => [test, new Set(rules)]));
  });

  constructor(
    parts: readonly VersionedPart[],
    { editable, keeper, savedAt, owner }: DraftRights,
    ports: SaverPorts = {},
    private readonly steps: KeptSteps = keepNoSteps,
  ) {
    const { past, future } = steps.load();
    this.past.push(...past);
    this.future.push(...future);
    this.rights = { editable, keeper };
    this.editable = editable;
    this.owner = owner;
    this.saver = new Saver(
      savedAt,
      (ref) => this.part(ref)?.body,
      (ref, theirs) => sameJson(theirs?.body, this.part(ref)?.body),
      { ...ports, settled: (ref) => this.catchUp(ref) },
    );
    for (const part of parts) if (this.isSound(part)) this.put(part);
  }

  /** A part of a shape that this page does not know is left out, and said: it never takes a page down. */
  private isSound(part: VersionedPart | undefined): boolean {
    const problem = part && draftPartProblem(part, part.body);
    if (problem) this.refusal = `The ${part.kind} ${part.key} is left out here: ${problem}`;
    return problem === undefined;
  }

  private put(part: VersionedPart): void {
    this.parts.set(partId(part), part);
    this.saver.setServerVersion(partId(part), part.version);
  }

  /** Whether the rows of a table may be changed here. */
  keeps(table: Pick<MappingTable, 'keepers'>): boolean {
    return keepsTable(this.rights, table);
  }

  private mayEdit({ ref, ...edit }: PartEdit): boolean {
    return mayEditPart(this.rights, { kind: ref.kind, ...edit }, this.part(ref)?.body);
  }

  /** Has the rules looked through as they stand. */
  analyse(): void {
    this.analyst.analyse(this.rulebook);
  }

  /** Ends what runs beside the page. */
  close(): void {
    this.analyst.close();
  }

  /** The edits that end a finding, as one step of undo. */
  repair({ repair }: Finding): void {
    if (repair)
      this.editAll(
        repair.edits.map(({ part, operations }) => ({ ref: part, operations })),
        repair.text,
      );
  }

  /** A finding that is right as it is: the reason is kept with the rulebook and shown. */
  accept({ key }: Finding, reason: string): void {
    const accepted = (this.rulebook.accepted ?? []).filter((a) => a.finding !== key);
    this.setAccepted([...accepted, { finding: key, reason }], 'accept a finding');
  }

  /** An accepted finding is open again. */
  reopen({ key }: Finding): void {
    this.setAccepted(
      (this.rulebook.accepted ?? []).filter((a) => a.finding !== key),
      'take an acceptance back',
    );
  }

  private setAccepted(accepted: readonly Acceptance[], label: string): void {
    this.edit({ kind: 'settings', key: settingsKey }, [{ op: 'add', path: '/accepted', value: accepted }], label);
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
  get redoLabel(): string | undefined {
    return this.future.at(-1)?.label;
  }

  part(ref: PartRef): VersionedPart | undefined {
    return this.parts.get(partId(ref));
  }

  /** A key for a new part that no other has: made of a name. */
  freeKey(kind: PartKind, name: string, prefix = ''): string {
    const base =
      name
        .normalize('NFKD')
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '_')
        .replace(/^_+|_+$/g, '')
        .slice(0, 60) || kind.replace(' ', '_');
    for (let n = 1; ; n++) {
      const key = n === 1 ? base : `${base}_${n}`;
      if (!this.parts.has(partId({ kind, key: prefix + key }))) return key;
    }
  }

  /** A position behind all parts of the kind. */
  lastPosition(kind: PartKind): number {
    return Math.max(-1, ...[...this.parts.values()].filter((p) => p.kind === kind).map((p) => p.position)) + 1;
  }

  /** A position right behind a part, among those of its kind. */
  positionAfter(ref: PartRef): number {
    const own = this.part(ref)?.position ?? this.lastPosition(ref.kind);
    const later = [...this.parts.values()].filter((p) => p.kind === ref.kind && p.position > own);
    const next = Math.min(...later.map((p) => p.position), own + 1);
    return (own + next) / 2;
  }

  private keeping: ReturnType<typeof setTimeout> | undefined;
  /** Kept once a burst of edits is over, and before the page goes. */
  private keepSteps(): void {
    clearTimeout(this.keeping);
    this.keeping = setTimeout(() => this.keepStepsNow(), 500);
  }
  keepStepsNow(): void {
    clearTimeout(this.keeping);
    this.steps.keep($state.snapshot({ past: this.past, future: this.future }) as Steps);
  }

  /** Applies operations to one part; the same `group` as the last step joins it. */
  edit(ref: PartRef, operations: readonly Operation[], label: string, group?: string): void {
    if (operations.length > 0) this.editAll([{ ref, operations }], label, group);
  }

  create(ref: PartRef, body: object, label: string, group?: string): void {
    this.editAll([{ ref, operations: [creating(body)], position: this.lastPosition(ref.kind) }], label, group);
  }

  remove(refs: readonly PartRef[], label: string): void {
    this.editAll(
      refs.map((ref) => ({ ref, operations: [removing] })),
      label,
    );
  }

  /** Edits of several parts as one act: all or none, and undone together. */
  editAll(edits: readonly PartEdit[], label: string, group: string = crypto.randomUUID()): void {
    if (edits.length === 0 || !edits.every((e) => this.mayEdit(e))) return;
    this.refusal = this.said = undefined;
    const changes = this.apply(edits);
    if (!changes) return;
    this.keepSteps();
    this.future.length = 0;
    const last = this.past.at(-1);
    if (last?.group === group) this.past[this.past.length - 1] = { ...last, changes: [...last.changes, ...changes] };
    else this.past.push({ changes, label, group });
  }

  undo(): void {
    this.refusal = this.said = undefined;
    const step = this.past.pop();
    if (!step) return;
    this.keepSteps();
    const done = this.apply(takenBack(step.changes));
    if (done) {
      this.future.push({ ...step, changes: done });
      this.said = `Undone: ${step.label}`;
    } else this.refusal ??= `“${step.label}” cannot be undone any more: somebody changed the same thing since.`;
  }

  redo(): void {
    this.refusal = this.said = undefined;
    const step = this.future.pop();
    if (!step) return;
    this.keepSteps();
    const done = this.apply(takenBack(step.changes));
    if (done) {
      this.past.push({ ...step, changes: done });
      this.said = `Done again: ${step.label}`;
    } else this.refusal ??= `“${step.label}” cannot be done again: somebody changed the same thing since.`;
  }

  /** Puts the new bodies and queues the operations; undefined, and nothing done, where one does not fit any more. */
  private apply(edits: readonly PartEdit[]): readonly PartChange[] | undefined {
    const bodies = new Map<string, PartBody>();
    const changes: PartChange[] = [];
    try {
      for (const edit of edits) {
        const id = partId(edit.ref);
        const part = this.parts.get(id);
        const now = bodies.has(id) ? bodies.get(id) : (part?.body as PartBody);
        const { body, inverse } = editPartBody(now, edit.operations);
        const problem = body && draftPartProblem(edit.ref, body);
        if (problem) {
          this.refusal = problem;
          return undefined;
        }
        bodies.set(id, body);
        const moved = part && (edit.position !== undefined || body === undefined);
        changes.push({ ...edit, inverse, ...(moved ? { positionBefore: part.position } : {}) });
      }
    } catch (e) {
      if (e instanceof PatchError) return undefined;
      throw e;
    }
    for (const { ref, operations, position } of edits) {
      const id = partId(ref);
      const body = bodies.get(id);
      const part = this.parts.get(id);
      if (body === undefined) this.parts.delete(id);
      else {
        const { kind, key } = ref;
        const at = position ?? part?.position ?? this.lastPosition(kind);
        this.parts.set(id, { kind, key, version: part?.version ?? 0, position: at, body });
      }
      this.saver.queue(ref, operations, position);
    }
    return changes;
  }

  /** Settles a clash: their part stays, or ours goes over it. */
  resolve(id: string, keep: 'ours' | 'theirs'): void {
    const clash = this.saver.clashes.get(id);
    if (!clash) return;
    const ours = this.parts.get(id)?.body as PartBody;
    this.saver.settleClash(id);
    this.past.length = this.future.length = 0;
    this.takeOver(clash.ref, clash.theirs);
    if (keep === 'theirs') return;
    const { ref, theirs } = clash;
    if (ours === undefined) {
      if (theirs) this.remove([ref], 'keep my version');
    } else if (theirs) this.edit(ref, [{ op: 'replace', path: '', value: ours }], 'keep my version');
    else this.create(ref, ours, 'keep my version');
  }

  private takeOver(ref: PartRef, part: VersionedPart | undefined): void {
    if (part) this.put(part);
    else {
      this.parts.delete(partId(ref));
      this.saver.setServerVersion(partId(ref), undefined);
    }
  }

  /** Takes in what someone else did; what we are changing ourselves waits for the clash to be shown. */
  applyRemote(edit: RemoteEdit): void {
    const { kind, key, by, change } = edit;
    const id = partId(edit);
    const version = edit.part?.version ?? change?.version;
    if (version !== undefined && version <= this.saver.versionOf(id)) return;
    // Where it is taken away, or ours does not fit, the clash is shown when ours is sent.
    if (this.saver.isBusy(id)) return void (version !== undefined && this.missed.set(id, edit));
    const part = change ? this.changed(edit, change) : edit.part;
    if (change && !part) return this.whenMissed();
    const named = (part ?? this.parts.get(id))?.body as { name?: string } | undefined;
    if (!this.isSound(part)) return;
    this.lastRemoteEdit = { by, what: named?.name ?? kind };
    this.takeOver({ kind, key }, part);
  }

  /** Asks for the whole draft, where an edit does not follow on what is known here. */
  whenMissed: () => void = () => undefined;

  /** The part as an edit makes it; undefined where the edit is of another version than the one before ours. */
  private changed(ref: PartRef, { version, operations }: PartEdited): VersionedPart | undefined {
    const own = this.parts.get(partId(ref));
    if (!own || this.saver.versionOf(partId(ref)) !== version - 1) return undefined;
    try {
      const { body } = editPartBody(own.body as object, operations);
      return body && { ...own, version, body };
    } catch (e) {
      if (e instanceof PatchError) return undefined;
      throw e;
    }
  }

  /** What others did to parts while changes of ours were on their way: taken in once those are there. */
  private readonly missed = new Map<string, RemoteEdit>();
  private catchUp(ref: PartRef): void {
    const edit = this.missed.get(partId(ref));
    this.missed.delete(partId(ref));
    if (edit) this.applyRemote(edit);
  }

  /** Takes over what the server has, for parts that nothing of ours is waiting on. */
  refresh(parts: readonly VersionedPart[]): void {
    const there = new Set(parts.map(partId));
    for (const id of [...this.parts.keys()]) if (!there.has(id) && !this.saver.isBusy(id)) this.parts.delete(id);
    for (const part of parts) {
      const id = partId(part);
      if (this.parts.has(id) && this.saver.versionOf(id) >= part.version) continue;
      if (this.saver.isBusy(id)) this.missed.set(id, { kind: part.kind, key: part.key, by: 'somebody', part });
      else if (this.isSound(part)) this.put(part);
    }
  }

  /** Takes up what pages that are gone could not save: it is done, or stands beside what others did since. */
  async takeUpKept(): Promise<void> {
    const { open, overtaken } = await this.saver.takeUp();
    const refused: KeptEdit[] = [];
    for (const edit of open) {
      this.editAll([edit], 'changes from before');
      if (!this.saver.isBusy(partId(edit.ref))) refused.push(edit);
    }
    for (const edit of [...overtaken, ...refused]) {
      const { ref, body } = edit;
      const theirs = this.part(ref);
      const same = sameJson(theirs?.body, body);
      if (same || this.saver.isBusy(partId(ref)) || (body !== undefined && draftPartProblem(ref, body))) continue;
      if (body === undefined) this.parts.delete(partId(ref));
      else {
        const { position = theirs?.position ?? this.lastPosition(ref.kind) } = edit;
        this.parts.set(partId(ref), { ...ref, version: theirs?.version ?? 0, position, body });
      }
      this.saver.openClash(edit, theirs);
    }
  }
}

let current: Draft | undefined;

/** The draft of this browser tab: kept while people go to other areas and come back, so that undo reaches over them. */
export function openDraft(parts: readonly VersionedPart[], rights: DraftRights, inBrowser: boolean): Draft {
  if (!inBrowser) return new Draft(parts, rights);
  if (current?.editable === rights.editable && current.owner === rights.owner) current.refresh(parts);
  else {
    const page = crypto.randomUUID();
    const kept = keepIn(localStorage, rights.owner, page);
    // It outlives the page that opens it: what it works out must not end with that one.
    $effect.root(() => {
      current = new Draft(parts, rights, { page, kept }, keepStepsIn(sessionStorage, rights.owner));
    });
  }
  return current!;
}
