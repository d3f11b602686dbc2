/** How a form is saved: what is tried, what came of it, and what stands against it meanwhile. */
import type { Field } from '@rigid-rule/core/document';
import type { Message } from '@rigid-rule/core/settle';
import { isUnreached } from '$lib/network.ts';
import type { Confirmed, RecordForm } from './form.svelte.ts';
import type { SaveAnswer, SavedAnswer } from './record-server.ts';

interface Surroundings {
  readonly form: RecordForm;
  /** Fields that the form shows. */
  readonly fields: readonly Field[];
  /** Goes to what stops the save. */
  readonly toTrouble: () => void;
  /** Shows the record as it was saved. */
  readonly toSaved: (saved: SavedAnswer) => Promise<void>;
}

/** Why nothing can be saved here, whatever is typed. */
const cannot: Partial<Record<SaveAnswer['outcome'], string>> = {
  'no record': 'This record is there no more. Nothing was saved.',
  'no type': 'The live rules have this record type no more. Nothing was saved.',
  'no entry point': 'The live rules have this form no more. Nothing was saved.',
  'key used': 'The server took this for another save. Nothing was saved; save it again.',
};

export class Saving {
  busy = $state(false);
  answer = $state.raw<SaveAnswer>();
  problem = $state<string>();
  private tried = $state(false);
  private readonly around: Surroundings;

  constructor(around: Surroundings) {
    this.around = around;
  }

  /** While typing only what is wrong with a value; what is missing is said once saving was tried. */
  readonly messages = $derived.by((): readonly Message[] => {
    const { form } = this.around;
    const now = this.tried ? form.saving.messages : form.settlement.messages;
    const said = this.answer?.outcome === 'stopped' ? this.answer.settlement.messages : [];
    return [...now, ...said.filter((m) => !now.some((n) => n.field === m.field && n.text === m.text))];
  });
  readonly stops = $derived(this.messages.filter((m) => m.severity === 'stop'));

  /** Messages that no line of the form shows: about the record, or about a field that is not on it. */
  readonly loose = $derived.by((): readonly Message[] => {
    const { form, fields } = this.around;
    const { answer } = this;
    const said = answer?.outcome === 'saved' && !form.dirty ? answer.settlement.messages : this.messages;
    const isShown = (key: string): boolean =>
      fields.some((f) => f.key === key) && form.settlement.states[key]?.hidden === undefined;
    return said.filter((m) => m.field === undefined || !isShown(m.field));
  });

  /** @param confirmed What was shown as coming out otherwise, and is wanted so. */
  async save(confirmed?: Confirmed): Promise<void> {
    const { form, toTrouble, toSaved } = this.around;
    if (this.busy || !form.dirty) return;
    this.tried = this.busy = true;
    this.problem = undefined;
    try {
      await form.answerAsks();
      if (!['saved', 'waiting'].includes(form.saving.verdict) && !confirmed) return toTrouble();
      const answer = await form.save(confirmed);
      this.answer = answer;
      this.problem = cannot[answer.outcome];
      if (answer.outcome === 'stopped') toTrouble();
      if (answer.outcome !== 'saved') return;
      this.tried = false;
      await toSaved(answer);
    } catch (e) {
      this.problem =
        e instanceof Error && !isUnreached(e) ? e.message : 'The network is away. What you typed is still here.';
    } finally {
      this.busy = false;
    }
  }

  /** Nothing was tried, and nothing typed. */
  discard(): void {
    this.around.form.putBack();
    this.tried = false;
    this.answer = undefined;
  }
}
