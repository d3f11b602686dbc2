/** How much a page asks the server at once, and how it asks for more: both ends go by this. */

/** Questions about other records. */
export const mostQuestions = 200;
/** Questions for rows of mapping tables. */
export const mostRowQuestions = 500;

/** The answers to all questions, in their order, asked for so many at once. */
export async function askInChunks<Q, A>(
  questions: readonly Q[],
  most: number,
  ask: (chunk: readonly Q[]) => Promise<readonly A[]>,
): Promise<readonly A[]> {
  const chunks = Array.from({ length: Math.ceil(questions.length / most) }, (_, i) =>
    questions.slice(i * most, (i + 1) * most),
  );
  const answers: A[] = [];
  for (const answered of await Promise.all(chunks.map(ask))) answers.push(...answered);
  return answers;
}
