/** How sentences that core makes are written for the organisation of a rulebook, in the browser and on the server. */
import { isolated, type Place, type Writing } from '@rigid-rule/core/language';
import { shownInstant } from './instants.ts';
import { usualTag, writtenForm } from './locale.ts';

const known = new Map<string, Writing>();

/** The same place has the same writing: a program compiles again what it says when that is another. */
export function writingOf({ zone, locale = usualTag, currency = 'EUR' }: Place): Writing {
  const id = `${locale} ${currency} ${zone}`;
  let writing = known.get(id);
  if (!writing) known.set(id, (writing = createWriting(zone, locale, currency)));
  return writing;
}

function createWriting(zone: string, tag: string, currency: string): Writing {
  const form = writtenForm({ tag, currency });
  return {
    number: form.number,
    money: form.money,
    day: form.day,
    instant: (iso) => shownInstant(iso, zone, form),
    text: isolated,
  };
}
