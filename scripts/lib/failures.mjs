/**
 * What failed, from the reports of the runners: said once more at the very end, since a long log is cut in its middle.
 */

const colours = new RegExp(String.raw`\u001b\[[0-9;]*m`, 'g');

/** The beginning of a message, long enough for a counterexample and its seed. */
function beginning(message, lines = 30) {
  return String(message ?? '')
    .replace(colours, '')
    .split('\n')
    .slice(0, lines)
    .join('\n    ');
}

/** What stood on the pages of a test that failed, as its fixture attached it. */
function pagesOf(result) {
  const pages = (result?.attachments ?? []).filter((a) => a.name === 'page' && a.body);
  return pages.map(({ body }) => `\n    ${beginning(Buffer.from(body, 'base64'), 120)}`).join('');
}

/** Failures of a report of Vitest, each as a text. */
export function failuresOfVitest(report) {
  return report.testResults.flatMap((file) => {
    const tests = file.assertionResults.filter((t) => t.status === 'failed');
    if (tests.length === 0 && file.status === 'failed') return [`${file.name}\n    ${beginning(file.message)}`];
    return tests.map((t) => `${file.name} > ${t.fullName}\n    ${beginning(t.failureMessages[0])}`);
  });
}

/** Failures of a report of Playwright, each as a text; a test that held only at a second try is one. */
export function failuresOfPlaywright(report) {
  const inSuite = (suite) => [
    ...(suite.suites ?? []).flatMap(inSuite),
    ...(suite.specs ?? [])
      .filter((spec) => !spec.ok)
      .map((spec) => {
        const result = spec.tests.flatMap((t) => t.results).find((r) => r.status !== 'passed');
        return `${spec.file}:${spec.line} > ${spec.title}\n    ${beginning(result?.error?.message)}${pagesOf(result)}`;
      }),
  ];
  return [...report.suites.flatMap(inSuite), ...report.errors.map((e) => beginning(e.message))];
}
