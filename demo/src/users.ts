/** The demo's sign-ins. Shown by a demo installation only; never created anywhere else. */
export interface DemoUser {
  readonly email: string;
  readonly name: string;
  readonly role: 'author' | 'releaser' | 'table keeper' | 'record keeper' | 'viewer';
  readonly password: string;
}

const password = 'orchard-in-bloom';

export const demoUsers: readonly DemoUser[] = [
  { email: 'tomas@quillhaven.example', name: 'Tomas Abery', role: 'author', password },
  { email: 'ines@quillhaven.example', name: 'Ines Okafor', role: 'releaser', password },
  { email: 'sunniva@quillhaven.example', name: 'Sunniva Marsh', role: 'table keeper', password },
  { email: 'mira@quillhaven.example', name: 'Mira Tolland', role: 'record keeper', password },
  { email: 'jorik@quillhaven.example', name: 'Jorik Dahlgren', role: 'viewer', password },
];
