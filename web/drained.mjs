/** What is heard of an answer that was too fast for its reader. */

/**
 * `res.once('drain', …)` hears it once. The middleware that compresses passes what is to be heard of on to its own stream,
 * where Node does not find it again: with each pause of a long answer one more would stay there, and be called.
 *
 * @param {import('node:http').ServerResponse} res after the middleware has taken it over
 */
export function hearDrainedOnce(res) {
  const { once } = res;
  res.once = (type, listener) => {
    if (type !== 'drain') return once.call(res, type, listener);
    let heard = false;
    const hear = () => {
      emitter.off('drain', hear);
      if (!heard) listener.call(res);
      heard = true;
    };
    const emitter = res.on('drain', hear);
    return res;
  };
}
