/** Answers what formulas ask of other records, from the world; a question without an answer suspends the rule. */
import type { Host } from '../language/types/host.ts';
import type { RelatedRecords } from '../language/expression/related.ts';
import type { RecordData, Stored } from '../document/document.ts';
import type { MatchMode } from '../values/match-keys.ts';
import { RecordRef, type Value } from '../values/value.ts';
import type { Program, TypeProgram } from '../compile/compiled.ts';
import type { Write } from './write.ts';
import { AskedTable } from './asked-table.ts';
import { queryKey, type RecordQuery, type FoundRecord, type RecordSource } from './record-source.ts';
import { rowsKey, type RowsQuery } from './row-answers.ts';
import type { SlotIndex } from '../document/slots.ts';

/** Raised where a question has no answer yet; caught where the rule was considered. */
export class Unanswered extends Error {
  constructor() {
    super('what a rule asks for is not known yet');
  }
}

/** It says nothing but that, and is raised with nearly every write: one does for all, without where it came from. */
const unanswered = new Unanswered();

const originId = '\0origin';

/** The record that is being settled, as the reader needs it. */
export interface OwnRecord {
  readonly type: TypeProgram;
  /** The value of a slot as it stands. */
  value(slot: SlotIndex): Value;
  changed(slot: SlotIndex): boolean;
}

export class RelatedReader implements RelatedRecords {
  readonly self: RecordRef;
  readonly origin: Value;
  readonly user: Value;
  /** What was read since the log was last cleared, as people name it. */
  readonly log: { readonly name: string; readonly value: Stored }[] = [];
  readonly asks = new Map<string, RecordQuery>();
  readonly rowsAsked = new Map<string, RowsQuery>();
  private readonly program: Program;
  private readonly write: Write;
  private readonly world: RecordSource;
  private readonly own: OwnRecord;
  private readonly host: Host;
  /** Other records as they stood before the write that caused this one. */
  private readonly former: boolean;

  constructor(program: Program, write: Write, world: RecordSource, own: OwnRecord, host: Host, former = false) {
    this.program = program;
    this.write = write;
    this.world = world;
    this.own = own;
    this.host = host;
    this.former = former;
    this.self = new RecordRef(write.recordType, write.id ?? '');
    this.origin = write.origin ? new RecordRef(write.origin.recordType, originId) : null;
    this.user = userValue(write, program.rulebook.userRecordType);
  }

  readonly changed = (slot: SlotIndex): boolean => this.own.changed(slot);

  readonly table = (key: string): ReturnType<RelatedRecords['table']> => {
    const compiled = this.program.tables.get(key);
    const rows = this.world.rows;
    if (!compiled || !rows?.has(key)) return compiled;
    return new AskedTable(compiled.table, this.program.rulebook, (query) => {
      const found = rows.answer(query);
      if (found) return found;
      this.rowsAsked.set(rowsKey(query), query);
      throw unanswered;
    });
  };

  readonly read = (ref: RecordRef, name: string): Value => {
    const type = this.program.types.get(ref.recordType);
    if (!type) return null;
    const list = type.childLists.get(name);
    if (list) return this.children(ref, list.recordType, list.field);
    const binding = type.scope.fields.get(name);
    if (!binding) return null;
    if (this.isSelf(ref)) return this.own.value(binding.slot);
    const { field, type: fieldType } = type.slots[binding.slot]!;
    const stored = this.dataOf(ref)?.[field.key] ?? null;
    this.log.push({ name: `${type.recordType.name}.${name}`, value: stored });
    return fieldType.read(stored, field, this.host);
  };

  readonly match = (recordType: string, field: string, mode: MatchMode, value: string): readonly RecordRef[] =>
    this.ask({ kind: 'match', recordType, field, mode, value }).map((r) => new RecordRef(recordType, r.id));

  typeOf(recordType: string): TypeProgram | undefined {
    return this.program.types.get(recordType);
  }

  /** What another record holds, or this one as it stands. */
  storedOf(ref: RecordRef, field: string): Stored {
    return this.dataOf(ref)?.[field] ?? null;
  }

  private isSelf(ref: RecordRef): boolean {
    return ref.recordType === this.write.recordType && ref.id === (this.write.id ?? '');
  }

  /** The record itself is among the children that its lookup says now, whether it is stored there yet or not. */
  private children(ref: RecordRef, recordType: string, field: string): Value {
    // A record that is being made has none yet.
    const found = ref.id === '' ? [] : this.ask({ kind: 'children', recordType, field, id: ref.id });
    const own = recordType === this.write.recordType ? this.ownLookup(field) : undefined;
    if (own === undefined) return found.map((r) => new RecordRef(recordType, r.id));
    const others = found.filter((r) => r.id !== this.self.id).map((r) => new RecordRef(recordType, r.id));
    const isThere = own !== null && own.id === ref.id && own.recordType === ref.recordType;
    if (!isThere || (this.former && this.write.before === null)) return others;
    const at = found.findIndex((r) => r.id === this.self.id);
    return at < 0 ? [...others, this.self] : [...others.slice(0, at), this.self, ...others.slice(at)];
  }

  /** What a lookup of the record itself names as it stands; undefined where it has no such lookup. */
  private ownLookup(field: string): RecordRef | null | undefined {
    const slot = this.own.type.slotOf.get(field);
    if (slot === undefined) return undefined;
    const v = this.own.value(slot);
    return v instanceof RecordRef ? v : null;
  }

  private dataOf(ref: RecordRef): RecordData | undefined {
    if (ref.id === originId) return this.write.origin?.data;
    if (this.former) {
      const before = this.write.formerly?.find((r) => r.recordType === ref.recordType && r.id === ref.id);
      if (before) return before.data;
    }
    return this.ask({ kind: 'record', recordType: ref.recordType, id: ref.id })[0]?.data;
  }

  private ask(ask: RecordQuery): readonly FoundRecord[] {
    const found = this.world.answer(ask);
    if (found) return found;
    this.asks.set(queryKey(ask), ask);
    throw unanswered;
  }
}

function userValue({ user }: Write, recordType: string | undefined): Value {
  if (!user) return null;
  const contact = user.contact === undefined ? null : new RecordRef(recordType ?? '', user.contact);
  return new Map<string, Value>([
    ['name', user.name],
    ['email', user.email],
    ['role', user.role],
    ['contact', contact],
  ]);
}
