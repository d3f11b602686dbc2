/** Prints the effort of every job by the keystroke-level model, once all have run. */
import type { Reporter, TestCase, TestResult } from '@playwright/test/reporter';
import { effortType, type Effort } from './hands.ts';

export default class EffortTable implements Reporter {
  private readonly efforts: Effort[] = [];

  printsToStdio(): boolean {
    return false;
  }

  onTestEnd(_test: TestCase, { annotations, status }: TestResult): void {
    const note = annotations.find((a) => a.type === effortType)?.description;
    if (note && status === 'passed') this.efforts.push(JSON.parse(note) as Effort);
  }

  onEnd(): void {
    if (this.efforts.length === 0) return;
    const width = Math.max(...this.efforts.map((e) => e.job.length));
    const line = (job: string, ...cells: readonly (string | number)[]) =>
      `  ${job.padEnd(width)}${cells.map((c) => String(c).padStart(7)).join('')}`;
    console.log(
      `\nJobs by the keystroke-level model, from an empty draft\n${line('', 'keys', 'points', 'hands', 'mental', 's')}`,
    );
    for (const { job, counts, seconds } of this.efforts.sort((a, b) => (a.job < b.job ? -1 : 1)))
      console.log(line(job, counts.K, counts.P, counts.H, counts.M, seconds.toFixed(1)));
  }
}
