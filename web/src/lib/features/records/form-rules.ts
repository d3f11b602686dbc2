/** What settling records of one type takes: its rules, and the mapping tables that they ask. */
import type { Program } from '@rigid-rule/core/compile';
import type { Rulebook } from '@rigid-rule/core/document';

export interface FormRules {
  readonly rulebook: Rulebook;
  /** Keys of the tables that come without their rows: a form asks for those that its record needs. */
  readonly rowsElsewhere: readonly string[];
}

/** A table of more rows than this is asked for them, one question for each record; a smaller one comes along. */
const mostRows = 300;

/** `most`: rows that a table may have to come along. A table that a formula looks at as a whole always does. */
export function rulesOnForm({ rulebook, types }: Program, typeKey: string, most = mostRows): FormRules {
  const { samples: _, tests: __, claims: ___, tables = [], rules, ...rest } = rulebook;
  const own = types.get(typeKey)!.rules;
  const asked = new Set(own.flatMap((r) => [...r.tables]));
  const seenWhole = new Set(own.flatMap((r) => r.placed.formulas.flatMap((f) => [...f.formula.tables])));
  const wanted = tables.filter((t) => asked.has(t.key));
  const rowsElsewhere = wanted.filter((t) => t.rows.length > most && !seenWhole.has(t.key)).map((t) => t.key);
  const elsewhere = new Set(rowsElsewhere);
  return {
    rulebook: {
      ...rest,
      rules: rules.filter((r) => r.recordType === typeKey),
      tables: wanted.map((t) => (elsewhere.has(t.key) ? { ...t, rows: [] } : t)),
    },
    rowsElsewhere,
  };
}
