/**
 * What the rules make of a record on a form: the same in the browser and where the page is put together. It comes with
 * the whole engine, so the browser loads it once somebody is about to type.
 */
import { formKey, type Program, type TypeProgram } from '@rigid-rule/core/compile';
import type { Moment, RecordData } from '@rigid-rule/core/document';
import type { RecordSource } from '@rigid-rule/core/records';
import { overruled } from '@rigid-rule/core/related';
import { settle, type Settlement, type SettleOptions } from '@rigid-rule/core/settle';
import {
  begunBy,
  savingMoment,
  writtenIn,
  type FormIdentity,
  type FormInput,
  type FormOutlook,
  type FormSettled,
  type RuleOnForm,
} from './form-state.ts';

/** Values that are sent and not typed, and who is woken besides whoever is awake. */
interface Besides {
  readonly sent: RecordData;
  readonly woken: readonly string[];
}

export class FormEngine {
  private readonly program: Program;
  private readonly type: TypeProgram;
  private readonly identity: FormIdentity;
  private readonly options: SettleOptions;

  constructor(program: Program, identity: FormIdentity, options: SettleOptions = {}) {
    this.program = program;
    this.type = program.types.get(identity.recordType)!;
    this.identity = identity;
    this.options = options;
  }

  /** Rules that may write, the strongest first. */
  get rules(): readonly RuleOnForm[] {
    const { slots } = this.type;
    return this.type.rules
      .filter((r) => r.compiles && r.rule.on)
      .map(({ rule: { key, name, winner }, writes }) => ({
        key,
        name,
        winner,
        writes: writes.map((slot) => slots[slot]!.field.key),
      }));
  }

  /** What stands on the form. */
  settle(input: FormInput, source: RecordSource): FormSettled {
    const opening = input.stored ? undefined : this.opening(input.now, source);
    const settlement = this.at('editing', input, begunBy(opening), source);
    return { ...(opening ? { opening } : {}), settlement };
  }

  /** What follows from what stands there. `settled`: of the same input. */
  outlook(input: FormInput, settled: FormSettled, source: RecordSource): FormOutlook {
    const begun = begunBy(settled.opening);
    const formOnly = this.formOnly(input, settled.settlement);
    return {
      formOnly,
      saving: this.at(savingMoment(input.stored), input, begun, source, { sent: formOnly, woken: input.woken }),
      explained: this.explain(input, settled, source),
    };
  }

  /** What each standing rule says, also where it is not awake. */
  explain(input: FormInput, { opening }: FormSettled, source: RecordSource): Settlement {
    const standing = this.type.rules.filter((r) => r.standing && r.rule.on).map((r) => r.rule.key);
    return this.at('editing', input, begunBy(opening), source, { sent: {}, woken: standing });
  }

  private opening(now: string, source: RecordSource): Settlement {
    const write = { ...this.write(now, 'opening'), before: null, sent: {}, typed: [] };
    return settle(this.program, write, source, this.options);
  }

  /** The whole from what is stored and what was typed. Where a value stands for a typed field too, a rule overruled it. */
  private at(
    moment: Moment,
    input: FormInput,
    begun: RecordData,
    source: RecordSource,
    { sent, woken }: Besides = { sent: {}, woken: input.woken },
  ): Settlement {
    const { stored, now, handedBack } = input;
    const typed = input.typed.filter((t) => !(t.key in sent));
    const write = {
      ...this.write(now, moment),
      ...(stored ? { id: String(stored.id) } : {}),
      before: stored,
      sent: { ...begun, ...sent, ...Object.fromEntries(typed.map((t) => [t.key, t.value])) },
      typed: typed.map((t) => t.key),
      woken,
      handBack: handedBack,
    };
    return settle(this.program, write, source, this.options);
  }

  private write(now: string, moment: Moment) {
    const { recordType, form, user } = this.identity;
    return { recordType, moment, entryPoint: formKey(form), now, ...(user ? { user } : {}) };
  }

  private formOnly({ stored, typed }: FormInput, settlement: Settlement): RecordData {
    const moment = savingMoment(stored);
    const only = new Set(this.type.rules.filter((r) => !r.rule.moments.includes(moment)).map((r) => r.rule.key));
    const { changes, data } = settlement;
    /** A rule that took back what was typed stands behind it too, although nothing is changed then. */
    const ruleBehind = (key: string): string | undefined => {
      const change = changes.find((c) => c.field === key);
      if (change) return change.author.by === 'rule' ? change.author.rule : undefined;
      const field = this.type.recordType.fields.find((f) => f.key === key);
      const value = typed.find((t) => t.key === key);
      const isOver = field && overruled(value, field, data[key] ?? null) !== undefined;
      return isOver ? writtenIn(settlement, key)?.rule : undefined;
    };
    const keys = new Set([...changes.map((c) => c.field), ...typed.map((t) => t.key)]);
    return Object.fromEntries(
      [...keys].flatMap((key) => (only.has(ruleBehind(key) ?? '') ? [[key, data[key] ?? null]] : [])),
    );
  }
}

/** What has to be answered before all of it is known, each question once. */
