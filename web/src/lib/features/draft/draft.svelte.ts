/**
 * The draft in this browser: every change applies at once, is undoable, and is saved on its own. Edits of others come
 * in as they are made.
 */
import { browserHost } from '$lib/host.svelte.ts';
import { storageIn } from '$lib/browser-storage.ts';
import type { Finding } from '@rigid-rule/core/analysis';
import { compileProgram, recompileProgram, type Program } from '@rigid-rule/core/compile';
import {
  fromParts,
  partId,
  removing,
  sameJson,
  settingsKey,
  type Acceptance,
  type MappingTable,
  type Operation,
  type PartBody,
  type PartKind,
  type PartRef,
  type Rulebook,
} from '@rigid-rule/core/document';
import { draftPartProblem } from '$lib/draft-part.ts';
import { keepsTable, mayEditPart, type EditRights, type RemoteEdit, type VersionedPart } from '$lib/draft-protocol.ts';
import type { Coverage } from '@rigid-rule/core/rule-tests';
import type { Analysis, TestLineResult } from '$lib/workers/analysis.ts';
import { uniqueId } from '$lib/unique-id.ts';
import { AnalystAtHand } from './analyst-at-hand.ts';
import { failuresByTest } from './test-results.ts';
import { nextStep, noHistory, withMoved, withStep, type Direction, type History } from './history.ts';
import { takenBack, type PartChange, type PartEdit } from './parts.ts';
import { PartStore } from './part-store.ts';
import { RemoteEdits } from './remote-edits.ts';
import { joinedEdits, keepIn, type KeptEdit } from './kept-edits.ts';
import { keepNoSteps, keepStepsIn, type KeptSteps } from './kept-steps.ts';
import { Saver, type SaverPorts } from './saver.svelte.ts';
import { WatchedParts } from './watched-parts.svelte.ts';

export interface DraftRights extends EditRights {
  readonly savedAt?: Date | undefined;
  /** Email of who edits: edits that wait in this browser are theirs alone. */
  readonly owner: string;
}

export class Draft {
  private readonly store = new PartStore(new WatchedParts());
  private history: History = $state.raw(noHistory);
  private previous: Rulebook | undefined;
  private lastProgram: Program | undefined;
  readonly saver: Saver;
  private readonly remote: RemoteEdits;
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

  readonly rulebook: Rulebook = $derived.by(() => (this.previous = fromParts(this.store.all(), this.previous)));
  readonly program: Program = $derived.by(() => {
    browserHost.load(this.rulebook);
    const host = browserHost.current;
    return (this.lastProgram = this.lastProgram
      ? recompileProgram(this.lastProgram, this.rulebook, host)
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
  /** They cannot be worked out now: what that takes could not be had, and is asked for again. */
  analysisWaits = $state(false);
  private readonly analyst = new AnalystAtHand(
    (answer) => this.take(answer),
    (waits) => (this.analysisWaits = waits),
  );

  private take({ findings, tests, coverage, acting }: Analysis): void {
    this.analysed = true;
    this.allFindings = findings;
    this.testLines = tests;
    this.coverage = coverage;
    this.acting = new Map(acting.map(([test, rules]) => [test, new Set(rules)]));
  }

  constructor(
    parts: readonly VersionedPart[],
    { editable, keeper, savedAt, owner }: DraftRights,
    ports: SaverPorts = {},
    private readonly steps: KeptSteps = keepNoSteps,
  ) {
    this.history = steps.load();
    this.rights = { editable, keeper };
    this.editable = editable;
    this.owner = owner;
    this.saver = new Saver(
      savedAt,
      (ref) => this.part(ref)?.body,
      (ref, theirs) => sameJson(theirs?.body, this.part(ref)?.body),
      { ...ports, settled: (ref) => this.remote.catchUp(ref) },
    );
    this.remote = new RemoteEdits(this.store, this.saver, {
      isSound: (part) => this.isSound(part),
      heard: (by, what) => (this.lastRemoteEdit = { by, what }),
      missed: () => this.whenMissed(),
    });
    for (const part of parts) if (this.isSound(part)) this.remote.takeOver(part, part);
  }

  /** A part of a shape that this page does not know is left out, and said: it never takes a page down. */
  private isSound(part: VersionedPart | undefined): boolean {
    const problem = part && draftPartProblem(part, part.body);
    if (problem) this.refusal = `The ${part.kind} ${part.key} is left out here: ${problem}`;
    return problem === undefined;
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
    this.closedAt = this.saver.versions.now();
    this.analyst.close();
  }
  /** Whatever this draft is opened with again was read after this moment. */
  private closedAt = 0;
  /** Goes on after it was closed, with what the server has by now. */
  goOn(parts: readonly VersionedPart[]): void {
    this.refresh(parts, this.closedAt);
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
    return this.history.past.length > 0;
  }
  get canRedo(): boolean {
    return this.history.future.length > 0;
  }
  get undoLabel(): string | undefined {
    return this.history.past.at(-1)?.label;
  }
  get redoLabel(): string | undefined {
    return this.history.future.at(-1)?.label;
  }

  part(ref: PartRef): VersionedPart | undefined {
    return this.store.get(ref);
  }
  freeKey(kind: PartKind, name: string, prefix = ''): string {
    return this.store.freeKey(kind, name, prefix);
  }
  lastPosition(kind: PartKind): number {
    return this.store.lastPosition(kind);
  }
  positionAfter(ref: PartRef): number {
    return this.store.positionAfter(ref);
  }

  private keeping: ReturnType<typeof setTimeout> | undefined;
  /** Kept once a burst of edits is over, and before the page goes. */
  private keepSteps(): void {
    clearTimeout(this.keeping);
    this.keeping = setTimeout(() => this.keepStepsNow(), 500);
  }
  keepStepsNow(): void {
    clearTimeout(this.keeping);
    this.steps.keep(this.history);
  }

  /** Applies operations to one part; the same `group` as the last step joins it. */
  edit(ref: PartRef, operations: readonly Operation[], label: string, group?: string): void {
    if (operations.length > 0) this.editAll([{ ref, operations }], label, group);
  }

  create(ref: PartRef, body: object, label: string, group?: string): void {
    this.editAll([this.store.creation(ref, body)], label, group);
  }

  remove(refs: readonly PartRef[], label: string): void {
    this.editAll(
      refs.map((ref) => ({ ref, operations: [removing] })),
      label,
    );
  }

  /** Edits of several parts as one act: all or none, and undone together. */
  editAll(edits: readonly PartEdit[], label: string, group: string = uniqueId()): void {
    if (edits.length === 0 || !edits.every((e) => this.mayEdit(e))) return;
    this.refusal = this.said = undefined;
    this.took(this.apply(edits), label, group);
  }

  /** What was changed can be undone. Gives whether anything was. */
  private took(changes: readonly PartChange[] | undefined, label: string, group: string): boolean {
    if (!changes) return false;
    this.history = withStep(this.history, { changes, label, group });
    this.keepSteps();
    return true;
  }

  undo(): void {
    this.go('undo');
  }
  redo(): void {
    this.go('redo');
  }

  private go(direction: Direction): void {
    this.refusal = this.said = undefined;
    const next = nextStep(this.history, direction);
    if (!next) return;
    const { step, rest } = next;
    const changes = this.apply(takenBack(step.changes));
    this.history = changes ? withMoved(rest, { ...step, changes }, direction) : rest;
    this.keepSteps();
    const { label } = step;
    if (changes) this.said = direction === 'undo' ? `Undone: ${label}` : `Done again: ${label}`;
    else {
      const cannot = direction === 'undo' ? 'undone any more' : 'done again';
      this.refusal ??= `“${label}” cannot be ${cannot}: somebody changed the same thing since.`;
    }
  }

  /** Makes the edits and queues them for the server; undefined, and nothing done, where one cannot be made. */
  private apply(
    edits: readonly PartEdit[],
    queue = ({ ref, operations, position }: PartEdit): void => this.saver.queue(ref, operations, position),
  ): readonly PartChange[] | undefined {
    const applied = this.store.apply(edits);
    if ('problem' in applied) {
      this.refusal = applied.problem;
      return undefined;
    }
    for (const edit of edits) queue(edit);
    return applied.changes;
  }

  /** Gives up what the server refused: who may not change it any more cannot undo it either. */
  leaveRefused(): void {
    this.saver.leaveRefused();
    this.history = noHistory;
    this.whenMissed();
  }

  /** Whether ours may go over what others made of a part. */
  mayKeep(ref: PartRef): boolean {
    return this.mayEdit({ ref, operations: [{ op: 'replace', path: '', value: null }] });
  }

  /** Settles a clash: their part stays, or ours goes over it. */
  resolve(id: string, keep: 'ours' | 'theirs'): void {
    const clash = this.saver.clashes.get(id);
    if (!clash || (keep === 'ours' && !this.mayKeep(clash.ref))) return;
    const ours = this.store.get(clash.ref)?.body as PartBody;
    this.saver.settleClash(id);
    this.history = noHistory;
    this.remote.takeOver(clash.ref, clash.theirs);
    if (keep === 'theirs') return;
    const { ref, theirs } = clash;
    if (ours === undefined) {
      if (theirs) this.remove([ref], 'keep my version');
    } else if (theirs) this.edit(ref, [{ op: 'replace', path: '', value: ours }], 'keep my version');
    else this.create(ref, ours, 'keep my version');
  }

  applyRemote(edit: RemoteEdit): void {
    this.remote.apply(edit);
  }
  /** `readAt`: the moment at which they began to be read. */
  refresh(parts: readonly VersionedPart[], readAt: number): void {
    this.remote.refresh(parts, readAt);
  }

  /** Asks for the whole draft, where an edit does not follow on what is known here. */
  whenMissed: () => void = () => undefined;

  /** Makes an edit of before, unless it cannot be made here any more. */
  private takeUp(edit: KeptEdit): boolean {
    if (!this.mayEdit(edit)) return false;
    const changes = this.apply([edit], () => this.saver.resume(edit));
    return this.took(changes, 'changes from before', edit.id);
  }

  /** Takes up what pages that are gone could not save: it is done, or stands beside what others did since. */
  async takeUpKept(): Promise<void> {
    const { open, overtaken } = await this.saver.takeUp();
    const refused: KeptEdit[] = [];
    for (const edits of open) {
      const [before] = edits;
      if (before && !this.mayEdit(before)) {
        this.holdBack(joinedEdits(before, ...edits.slice(1)));
        continue;
      }
      const left = [...edits];
      while (left[0] && this.takeUp(left[0])) left.shift();
      const [first, ...more] = left;
      if (first) refused.push(joinedEdits(first, ...more));
    }
    for (const edit of [...overtaken, ...refused]) {
      const theirs = this.part(edit.ref);
      if (this.showKept(edit)) this.saver.openClash(edit, theirs);
    }
  }

  /** Whose right was taken since: what they did stands here as they left it, refused, until it is undone or allowed again. */
  private holdBack(edit: KeptEdit): void {
    if (this.showKept(edit)) this.saver.holdBack(edit, `You may not change this ${edit.ref.kind} any more.`);
  }

  /** Lets a part stand here as an edit of before made it; false, and nothing done, where that makes no difference. */
  private showKept({ ref, body, position }: KeptEdit): boolean {
    const same = sameJson(this.part(ref)?.body, body);
    if (same || this.saver.isBusy(partId(ref)) || (body !== undefined && draftPartProblem(ref, body))) return false;
    if (body === undefined) this.store.remove(ref);
    else this.store.put(this.store.withBody(ref, body as PartBody, position));
    return true;
  }
}

let current: Draft | undefined;

/** The draft of this browser tab: kept while people go to other areas and come back, so that undo reaches over them. */
export function openDraft(parts: readonly VersionedPart[], rights: DraftRights, inBrowser: boolean): Draft {
  if (!inBrowser) return new Draft(parts, rights);
  if (current?.editable === rights.editable && current.owner === rights.owner) current.goOn(parts);
  else {
    const page = uniqueId();
    const kept = keepIn(storageIn('localStorage'), rights.owner, page);
    // It outlives the page that opens it: what it works out must not end with that one.
    $effect.root(() => {
      current = new Draft(parts, rights, { page, kept }, keepStepsIn(storageIn('sessionStorage'), rights.owner));
    });
  }
  return current!;
}
