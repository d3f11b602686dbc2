import type { User } from '$lib/server/db/users.ts';

declare global {
  namespace App {
    interface Locals {
      user: User | undefined;
      theme: 'light' | 'dark' | undefined;
    }
    interface Error {
      message: string;
    }
  }
}

export {};
