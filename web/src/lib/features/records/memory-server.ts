/** The server of the parity harness: records in memory, each write settled on its own as `settling.ts` does. */
import { compileProgram, formKey, type Program } from '@rigid-rule/core/compile';
import type { RecordData, Rulebook } from '@rigid-rule/core/document';
import { emptySource, RecordsSource, rowsFor, type Write } from '@rigid-rule/core/records';
import { effectsOf, judge, settleAndPropagate } from '@rigid-rule/core/related';
import type { Change, Settlement } from '@rigid-rule/core/settle';
import { plainHost } from '$lib/host-loading.ts';
import { nowIn } from '$lib/now.ts';
import { FormEngine } from './form-engine.ts';
import { rulesOnForm } from './form-rules.ts';
import type { FormIdentity } from './form-state.ts';
import { RecordForm } from './form.svelte.ts';
import type { RecordServer, SaveAnswer, SaveContent, SaveRequest, Stores } from './record-server.ts';

export const now = '2026-05-03T09:00:00+01:00';

export class MemoryServer implements RecordServer {
  program: Program;
  release = 1;
  readonly records = new Map<number, Stores>();
  /** What history tells of each record, in order. */
  readonly history = new Map<number, Change[][]>();
  private readonly recordType: string;

  constructor(rulebook: Rulebook, recordType: string) {
    this.program = compileProgram(rulebook, plainHost);
    this.recordType = recordType;
  }

  releases(rulebook: Rulebook): void {
    this.program = compileProgram(rulebook, plainHost);
    this.release++;
  }

  world(): RecordsSource {
    return new RecordsSource(
      [...this.records.values()].map((r) => ({ recordType: this.recordType, id: String(r.id), data: r.data })),
    );
  }

  related: RecordServer['related'] = (asks) => Promise.resolve(asks.map((ask) => this.world().answer(ask)));

  rows: RecordServer['rows'] = (queries) =>
    Promise.resolve(queries.map((q) => rowsFor(q, this.program.tables.get(q.table)!)));

  rules: RecordServer['rules'] = () => Promise.reject(new Error('The rules are at hand here.'));

  trace: RecordServer['trace'] = () => Promise.reject(new Error('Kept traces are the database\u2019s.'));

  preview: RecordServer['preview'] = (_, request) => {
    const stored = request.id === undefined ? undefined : this.records.get(request.id);
    const write = this.writeOf(request, formKey(request.form), stored);
    const effects = effectsOf(settleAndPropagate(this.program, write, this.world()));
    return Promise.resolve({ effects, dependants: [], titles: {} });
  };

  /** What a write would come to, stored nowhere. */
  settled(request: SaveContent, entryPoint: string): Settlement {
    const stored = request.id === undefined ? undefined : this.records.get(request.id);
    return settleAndPropagate(this.program, this.writeOf(request, entryPoint, stored), this.world()).settlement;
  }

  /** What was saved, by the key that it came with. */
  private readonly known = new Map<string, SaveAnswer>();
  save: RecordServer['save'] = (_, request) => {
    const answer = this.known.get(request.key) ?? this.write(request, formKey(request.form));
    if (answer.outcome === 'saved') this.known.set(request.key, answer);
    return Promise.resolve(answer);
  };

  /** A write of somebody else, by a program. */
  change(id: number, sent: RecordData): SaveAnswer {
    return this.write({ id, form: '', sent, typed: [], woken: [], handBack: [] }, 'api');
  }

  private write(request: SaveContent & Partial<SaveRequest>, entryPoint: string): SaveAnswer {
    const type = this.program.types.get(this.recordType)!;
    if (!type.entryPoints.has(entryPoint)) return { outcome: 'no entry point' };
    const stored = request.id === undefined ? undefined : this.records.get(request.id);
    if (request.id !== undefined && !stored) return { outcome: 'no record' };
    if (stored && request.version !== undefined && stored.version !== request.version)
      return { outcome: 'changed meanwhile', record: stored };
    const write = this.writeOf(request, entryPoint, stored);
    const id = Number(write.id);
    const transaction = settleAndPropagate(this.program, write, this.world());
    const { settlement } = transaction;
    const judged = judge(transaction, type.recordType, request.seen);
    if (judged.outcome === 'differs') return { ...judged, release: this.release, settlement };
    if (judged.outcome === 'stopped') return { outcome: 'stopped', settlement };
    const version = (stored?.version ?? 0) + 1;
    this.records.set(id, { id, data: settlement.data, held: settlement.held, version });
    this.history.set(id, [...(this.history.get(id) ?? []), [...settlement.changes]]);
    return { outcome: 'saved', id, version, settlement };
  }

  private writeOf(request: SaveContent, entryPoint: string, stored: Stores | undefined): Write {
    return {
      recordType: this.recordType,
      id: String(stored?.id ?? this.records.size + 1),
      before: stored ? { data: stored.data, held: stored.held } : null,
      sent: request.sent,
      typed: request.typed,
      moment: stored ? 'updating' : 'creating',
      entryPoint,
      now,
      woken: request.woken,
      handBack: request.handBack,
    };
  }
}

/** A form with the rules at hand but not the rows of their tables, that is at rest after each act. */
export function formInMemory(
  rulebook: Rulebook,
  identity: FormIdentity,
  release: number,
  server: RecordServer,
  readElsewhere: readonly string[] = [],
): RecordForm {
  const program = compileProgram(rulebook, plainHost);
  const rules = rulesOnForm(program, identity.recordType, 0);
  const engine = new FormEngine(compileProgram(rules.rulebook, plainHost), identity);
  const input = { stored: null, typed: [], woken: [], handedBack: [], now: nowIn(rulebook.zone) };
  // As where the page is put together, with all rows.
  const whole = new FormEngine(program, identity);
  const settled = whole.settle(input, emptySource);
  const start = { ...settled, explained: whole.explain(input, settled, emptySource), rules: whole.rules };
  const { recordTypes, zone } = rulebook;
  const parts = {
    recordTypes,
    zone,
    rulesAddress: '',
    identity,
    release,
    stored: null,
    start,
    readElsewhere,
    server,
    engine,
    rowsElsewhere: rules.rowsElsewhere,
  };
  const form = new RecordForm({ ...parts, afterQuiet: (work) => work() });
  form.rest();
  return form;
}
