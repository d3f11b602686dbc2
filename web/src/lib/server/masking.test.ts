import { draft } from '@rigid-rule/demo';
import { expect, it } from 'vitest';
import { fieldTypeOf } from '@rigid-rule/core/language';
import { maskingOf } from './masking.ts';

const contact = draft.recordTypes.find((t) => t.key === 'contact')!;
const secret = Buffer.from('a secret of this copy');
const { mask } = maskingOf(contact, secret);

it.each<[string, string, string]>([
  ['first_name', 'Ada', 'the first name'],
  ['last_name', 'van Morrow', 'a last name of two words'],
  ['email', 'ada@fen.example', 'an address'],
  ['phone', '+351211002345', 'a phone number'],
])('%s is replaced, the same by the same, and still a value of its field', (key, value) => {
  const field = contact.fields.find((f) => f.key === key)!;
  const masked = mask({ [key]: value })[key] as string;
  expect(masked).not.toBe(value);
  expect(mask({ [key]: value })[key]).toBe(masked);
  expect(fieldTypeOf(field).coerce(masked, field)).toEqual({ value: masked });
});

it('what only looks alike still does, and another copy says something else', () => {
  const one = mask({ last_name: 'Fen  Orchards', email: 'ADA@fen.example' });
  expect(String(one['last_name']).split(' ')).toHaveLength(3);
  expect(mask({ email: 'ada@FEN.example' })['email']).toBe(one['email']);
  expect(maskingOf(contact, Buffer.from('another')).mask({ email: 'ADA@fen.example' })['email']).not.toBe(one['email']);
});

it('what is no name, address or text is left as it is', () => {
  const data = { invitation_answer: 'coming', customer: '7', answered_at: '2026-01-01T00:00:00Z' };
  expect(mask(data)).toEqual(data);
});

it('the country of a phone number stays, its number does not', () => {
  const masked = mask({ phone: '+351211002345' })['phone'] as string;
  expect(masked.startsWith('+35')).toBe(true);
  expect(masked).toHaveLength('+351211002345'.length);
});
