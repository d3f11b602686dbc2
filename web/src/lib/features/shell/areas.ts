/** The areas of the product, in the order of the work. */
export interface Area {
  readonly name: string;
  readonly href: string;
  readonly path: RegExp;
  /** Begins the second group of the bar: live records. */
  readonly live?: true;
}

export const areas: readonly Area[] = [
  { name: 'Fields', href: '/fields', path: /^\/fields/ },
  { name: 'Rules', href: '/desk', path: /^\/(desk|map|document)(\/|$)/ },
  { name: 'Mappings', href: '/mappings', path: /^\/mappings/ },
  { name: 'Findings', href: '/findings', path: /^\/findings/ },
  { name: 'Release', href: '/release', path: /^\/release/ },
  { name: 'Records', href: '/records', path: /^\/records/, live: true },
  { name: 'Settings', href: '/settings', path: /^\/settings/, live: true },
];
