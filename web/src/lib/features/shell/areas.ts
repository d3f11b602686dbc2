/** The areas of the product, in the order of the work: where each is, what belongs to it, what the palette says of it. */
import {
  deskOf,
  deskPath,
  documentPath,
  driftPath,
  dryRunPath,
  fieldsPath,
  findingsPath,
  mapPath,
  mappingsPath,
  newRecordAddress,
  recordsOf,
  recordsPath,
  releasePath,
  settingsPath,
  testsOfType,
  testsPath,
} from '$lib/addresses.ts';
import type { PaletteEntry } from './acts.svelte.ts';

/** A record type as the palette names it. */
interface NamedType {
  readonly key: string;
  readonly name: string;
  readonly plural: string;
}

/** What the lines of the palette are about. */
export interface AtHand {
  /** Record types of the draft, and of the live release. */
  readonly types: readonly NamedType[];
  readonly liveTypes: readonly NamedType[];
  readonly mayWriteRecords: boolean;
}

export interface Area {
  readonly name: string;
  readonly href: string;
  /** Other addresses that belong to it. */
  readonly also?: readonly string[];
  /** Begins the second group of the bar: live records. */
  readonly live?: true;
  readonly entries?: (at: AtHand) => readonly PaletteEntry[];
}

export const areas: readonly Area[] = [
  { name: 'Fields', href: fieldsPath },
  {
    name: 'Rules',
    href: deskPath,
    also: [mapPath, documentPath],
    entries: ({ types }) => types.map((t) => ({ group: 'Rules', name: `Rules of ${t.plural}`, href: deskOf(t.key) })),
  },
  { name: 'Mappings', href: mappingsPath },
  { name: 'Findings', href: findingsPath },
  {
    name: 'Tests',
    href: testsPath,
    entries: ({ types }) =>
      types.map((t) => ({ group: 'Tests', name: `Tests of ${t.plural}`, href: testsOfType(t.key) })),
  },
  {
    name: 'Dry run',
    href: dryRunPath,
    also: [driftPath],
    entries: () => [{ group: 'Areas', name: 'Drift of live records', href: driftPath }],
  },
  { name: 'Release', href: releasePath },
  {
    name: 'Records',
    href: recordsPath,
    live: true,
    entries: ({ liveTypes, mayWriteRecords }) => [
      ...liveTypes.map((t) => ({ group: 'Records', name: t.plural, href: recordsOf(t.key) })),
      ...(mayWriteRecords ? liveTypes : []).map((t) => ({
        group: 'Acts',
        name: `New ${t.name.toLowerCase()}`,
        href: newRecordAddress(t.key),
      })),
    ],
  },
  { name: 'Settings', href: settingsPath, live: true },
];

/** The area that an address belongs to. */
export const areaAt = (path: string): Area | undefined =>
  areas.find((a) => [a.href, ...(a.also ?? [])].some((own) => path === own || path.startsWith(`${own}/`)));

/** Lines of the palette: the areas themselves, then what each has to say. */
export const areaEntries = (at: AtHand): PaletteEntry[] => [
  ...areas.map((a) => ({ group: 'Areas', name: a.name, href: a.href })),
  ...areas.flatMap((a) => a.entries?.(at) ?? []),
];
