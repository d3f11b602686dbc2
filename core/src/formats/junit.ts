/** Test results as JUnit XML, as build pipelines read it. */
import type { TestResult } from '../rule-tests/run.ts';

const entities: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&apos;',
};

/** Characters that XML 1.0 does not allow at all become the replacement character. */
const escape = (text: string): string =>
  text
    .replace(/[&<>"']/g, (c) => entities[c]!)
    .replace(/[^\t\n\r\u0020-\ud7ff\ue000-\ufffd\u{10000}-\u{10ffff}]/gu, '\ufffd');

export function toJUnit(name: string, results: readonly TestResult[]): string {
  const failed = results.filter((r) => r.failures.length > 0).length;
  const cases = results.map(({ test, failures }) => {
    const open = `    <testcase name="${escape(test.name)}" classname="${escape(test.recordType)}"`;
    if (failures.length === 0) return `${open}/>`;
    const text = failures.map(escape).join('\n');
    return `${open}>\n      <failure message="${escape(failures[0]!)}">${text}</failure>\n    </testcase>`;
  });
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<testsuites tests="${results.length}" failures="${failed}">`,
    `  <testsuite name="${escape(name)}" tests="${results.length}" failures="${failed}">`,
    ...cases,
    '  </testsuite>',
    '</testsuites>',
    '',
  ].join('\n');
}
