/** What can be wrong, in words: what others may use. */
export { catalog, hasErrors, type Diagnostic, type DiagnosticCode, type Severity, type TextRange } from './catalog.ts';
export { nearestName } from './nearest.ts';
