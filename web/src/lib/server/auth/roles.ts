/** Who may do what: one table, read by routes and by the screen. */
export const permissions = {
  'rulebook.read': ['author', 'releaser', 'record keeper', 'viewer'],
  'rulebook.write': ['author'],
  release: ['releaser'],
  'records.read': ['author', 'releaser', 'record keeper', 'viewer'],
  'records.write': ['author', 'releaser', 'record keeper'],
  'tokens.manage': ['author', 'releaser'],
} as const satisfies Record<string, readonly string[]>;

export type Permission = keyof typeof permissions;
export type Role = 'author' | 'releaser' | 'record keeper' | 'viewer';

export function may(role: Role, permission: Permission): boolean {
  return (permissions[permission] as readonly Role[]).includes(role);
}

export function permissionsOf(role: Role): Permission[] {
  return (Object.keys(permissions) as Permission[]).filter((p) => may(role, p));
}
