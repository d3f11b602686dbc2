/** Keys by which records and rows are matched: two texts match when a key that is sought is a key that is stored. */
import { foldedKey } from './unicode-case.ts';

export const matchModes = ['exact', 'folded', 'email domain', 'longest prefix'] as const;
export type MatchMode = (typeof matchModes)[number];

export const matchModeNames: Readonly<Record<MatchMode, string>> = {
  exact: 'exactly',
  folded: 'without regard to case and spaces',
  'email domain': 'by the domain of the email, free-mail domains left out',
  'longest prefix': 'by the longest beginning',
};

/** Domains at which anyone may have an address: they name nobody's firm. Well-known ones, from memory (common practice). */
const freeMail: ReadonlySet<string> = new Set(
  (
    'aol.com fastmail.com free.fr gmail.com gmx.at gmx.ch gmx.de gmx.net googlemail.com hotmail.com hotmail.co.uk ' +
    'hotmail.fr icloud.com laposte.net libero.it live.com mac.com mail.com mail.ru me.com msn.com orange.fr ' +
    'outlook.com proton.me protonmail.com qq.com sapo.pt t-online.de tutanota.com ukr.net web.de yahoo.com ' +
    'yahoo.co.uk yahoo.fr yandex.ru ymail.com'
  ).split(' '),
);

/** `anna@mail.example.org` → `mail.example.org`; null where there is none. */
export function emailDomain(email: string): string | null {
  const domain = /^[^\s@]+@([^\s@]+\.[^\s@.]+)$/.exec(foldedKey(email))?.[1];
  return domain ?? null;
}

const firmDomain = (email: string): string | null => {
  const domain = emailDomain(email);
  return domain === null || freeMail.has(domain) ? null : domain;
};

const compact = (text: string): string => foldedKey(text).replace(/ /g, '');

/** The key under which a text is found; null: it is not found in this mode. */
function storedKey(mode: MatchMode, value: string): string | null {
  if (value === '') return null;
  if (mode === 'exact') return value;
  if (mode === 'folded') return foldedKey(value) || null;
  return mode === 'email domain' ? firmDomain(value) : compact(value) || null;
}

/** The key of a value as it is stored; lists and blanks have none. */
export function keyOfStored(
  mode: MatchMode,
  stored: string | number | boolean | readonly string[] | null | undefined,
): string | null {
  return stored === undefined || stored === null || typeof stored === 'object' ? null : storedKey(mode, String(stored));
}

/** The keys that a sought value may be found under, the best first; those behind it count only where it finds none. */
export function soughtKeys(mode: MatchMode, value: string): readonly string[] {
  if (mode !== 'longest prefix') {
    const key = storedKey(mode, value);
    return key === null ? [] : [key];
  }
  const beginnings: string[] = [];
  let beginning = '';
  for (const character of compact(value)) beginnings.push((beginning += character));
  return beginnings.reverse();
}
