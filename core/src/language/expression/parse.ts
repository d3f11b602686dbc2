/** Text to syntax tree. */
import { diagnostic, type Diagnostic } from '../../diagnostics/catalog.ts';
import type { Expression, UnaryTest } from './ast.ts';
import { Grammar } from './grammar.ts';
import type { KnownNames } from './known-names.ts';
import { beyondLimits, formulaLimits } from './limits.ts';
import { Unreadable } from './token-reader.ts';
import { tokenize, type Token } from './tokens.ts';

export interface Parsed {
  /** Absent when the text does not parse. */
  readonly expression?: Expression;
  readonly diagnostics: readonly Diagnostic[];
}

export interface ParsedTests {
  readonly tests: readonly UnaryTest[];
  readonly negated: boolean;
  readonly diagnostics: readonly Diagnostic[];
}

export interface FormulaParser {
  parse(text: string): Parsed;
  /** DMN unary tests: what a cell of a table may hold. */
  parseTests(text: string): ParsedTests;
}

export function createParser(names: KnownNames): FormulaParser {
  /** What `read` gives for a text within limits, or why there is nothing. */
  const within = <T extends object>(text: string, read: (grammar: Grammar) => T): T | Unreadable => {
    try {
      return read(new Grammar(text, tokensWithinLimits(text), names.index));
    } catch (e) {
      if (e instanceof Unreadable) return e;
      throw e;
    }
  };
  return {
    parse(text) {
      const found = within(text, (grammar) => grammar.whole());
      return found instanceof Unreadable ? { diagnostics: [found.diagnostic] } : { expression: found, diagnostics: [] };
    },
    parseTests(text) {
      const found = within(text, (grammar) => grammar.unaryTests());
      return found instanceof Unreadable
        ? { tests: [], negated: false, diagnostics: [found.diagnostic] }
        : { ...found, diagnostics: [] };
    },
  };
}

function tokensWithinLimits(text: string): readonly Token[] {
  const { characters: limit } = formulaLimits;
  const range = { from: limit, to: text.length };
  if (text.length > limit) throw new Unreadable(diagnostic('syntax.too-long', range, { limit }));
  const tokens = tokenize(text);
  const beyond = beyondLimits(tokens);
  if (beyond) throw new Unreadable(beyond);
  return tokens;
}
