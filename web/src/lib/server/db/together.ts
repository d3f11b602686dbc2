/** Questions that many requests ask at the same time become one query: a round trip costs more than its answer. */
import DataLoader from 'dataloader';
import { isHeldUp, unavailabilityOf } from './unavailable.ts';

/** Batches of one kind that are under way at the same time; those who come meanwhile gather for the next. */
const mostUnderWay = 2;
const usualMost = 100;

/**
 * `ask`: answers each question, in their order, by one query. Where a question makes it fail each is asked alone, so that
 * nobody's spoils those of others. `gather`: milliseconds in which others may come, where nobody waits for the answer.
 */
export function together<Q, A>(
  ask: (questions: readonly Q[]) => Promise<readonly A[]>,
  { mostInBatch = usualMost, gather }: { readonly mostInBatch?: number; readonly gather?: number } = {},
): (question: Q) => Promise<A> {
  let underWay = 0;
  const waiting: (() => void)[] = [];
  const alone = (question: Q): Promise<A | Error> =>
    ask([question]).then(
      ([answer]) => answer!,
      (e: unknown) => (e instanceof Error ? e : new Error(String(e))),
    );
  const answer = async (questions: readonly Q[]): Promise<readonly (A | Error)[]> => {
    underWay++;
    try {
      return await ask(questions);
    } catch (e) {
      if (questions.length === 1 || (unavailabilityOf(e) && !isHeldUp(e))) throw e;
      return await Promise.all(questions.map(alone));
    } finally {
      underWay--;
      waiting.shift()?.();
    }
  };
  const loader = new DataLoader<Q, A>(answer, {
    cache: false,
    maxBatchSize: mostInBatch,
    batchScheduleFn: (go) => {
      if (underWay >= mostUnderWay) waiting.push(go);
      else if (gather === undefined) setImmediate(go);
      else setTimeout(go, gather);
    },
  });
  return (question) => loader.load(question);
}
