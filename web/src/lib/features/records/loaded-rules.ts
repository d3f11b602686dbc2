/** The rules that a form settles with, loaded once somebody needs them. */
import type { Rule } from '@rigid-rule/core/document';
import type { FormRules } from './form-rules.ts';

export class LoadedRules {
  private rules: Promise<FormRules> | undefined;

  constructor(private readonly load: () => Promise<FormRules>) {}

  /** @throws where they cannot be had; they are asked for anew the next time. */
  all(): Promise<FormRules> {
    this.rules ??= this.load().catch((e: unknown) => {
      this.rules = undefined;
      throw e;
    });
    return this.rules;
  }

  /** To be told in words. @throws where they cannot be had. */
  async byKey(): Promise<ReadonlyMap<string, Rule>> {
    return new Map((await this.all()).rulebook.rules.map((r) => [r.key, r]));
  }
}
