import type { UnavailableError } from '$lib/server/db/unavailable.ts';
import type { Role } from '$lib/server/auth/roles.ts';
import type { SessionUser } from '$lib/server/db/sessions.ts';

declare global {
  namespace App {
    interface Locals {
      user: SessionUser | undefined;
      theme: 'light' | 'dark' | undefined;
      /** Set where the database could not do what the request asked. */
      unavailable?: UnavailableError;
      /** Set where the request holds what no database can store. */
      unstorable?: boolean;
    }
    interface PageData {
      user?: { readonly id: number; readonly name: string; readonly role: Role; readonly email: string };
    }
    interface Error {
      message: string;
      /** The server could not be reached. */
      away?: true;
    }
  }
}

export {};
