/** Who may do what: one table, read by routes and by the screen. */
export const permissions = {
  'rulebook.read': ['author', 'releaser', 'table keeper', 'record keeper', 'viewer'],
  'rulebook.write': ['author'],
  /** Rows of the tables that name them as keeper, and nothing else. */
  'tables.keep': ['author', 'table keeper'],
  'samples.write': ['author', 'releaser'],
  /** Live records copied into samples. */
  'samples.copy': ['author', 'releaser'],
  'impact.agree': ['author', 'releaser'],
  /** Looks at all live records: what the live rules, or others, would make of them. */
  'drift.look': ['author', 'releaser'],
  release: ['releaser'],
  'records.read': ['author', 'releaser', 'table keeper', 'record keeper', 'viewer'],
  'records.write': ['author', 'releaser', 'record keeper'],
  'tokens.manage': ['author', 'releaser'],
  'people.manage': ['author', 'releaser'],
} as const satisfies Record<string, readonly string[]>;

export type Permission = keyof typeof permissions;
export const roles = ['author', 'releaser', 'table keeper', 'record keeper', 'viewer'] as const;
export type Role = (typeof roles)[number];
export const isRole = (text: string): text is Role => (roles as readonly string[]).includes(text);

export function may(role: Role, permission: Permission): boolean {
  return (permissions[permission] as readonly Role[]).includes(role);
}

export function permissionsOf(role: Role): Permission[] {
  return (Object.keys(permissions) as Permission[]).filter((p) => may(role, p));
}
