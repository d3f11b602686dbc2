/** Who writes, as formulas may ask: with the record that stands for them, where there is one. */
import type { Rulebook, User } from '@rigid-rule/core/document';
import { userLinkOf } from '$lib/user-link.ts';
import { findByText } from './db/records.ts';

export async function actingUser(
  { name, email, role }: Pick<User, 'name' | 'email' | 'role'>,
  rulebook: Rulebook,
): Promise<User> {
  const link = userLinkOf(rulebook);
  const contact = link && (await findByText(link.recordType.key, link.field.key, email));
  return { name, email, role, ...(contact === undefined ? {} : { contact: String(contact) }) };
}
