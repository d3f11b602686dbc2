/** Headers of every answer, whoever makes it: the application, its files, or the server that refuses. */

/** What is told to who is signed in is not left to who comes to the browser next, as by going back. Files say otherwise. */
const always = {
  'x-content-type-options': 'nosniff',
  'referrer-policy': 'same-origin',
  'cross-origin-opener-policy': 'same-origin',
  // Nothing of others is shown in a page, and workers of a page may share what is large.
  'cross-origin-embedder-policy': 'require-corp',
  'cross-origin-resource-policy': 'same-origin',
  'cache-control': 'no-store',
};
/** Pages bring a policy of their own. Should a browser show anything else, it runs nothing. */
const noContent = "default-src 'none'; frame-ancestors 'none'";
/** A worker is held to the policy of its script. */
const files = "default-src 'self'; frame-ancestors 'none'";
const oneYear = 31_536_000;

/**
 * Whatever answers may set them otherwise.
 *
 * @param {import('node:http').ServerResponse} res
 * @param {string} path of the request
 * @param {boolean} secure the browser spoke TLS
 */
export function setAnswerHeaders(res, path, secure) {
  for (const name in always) res.setHeader(name, always[name]);
  res.setHeader('content-security-policy', path.startsWith('/_app/') ? files : noContent);
  if (secure) res.setHeader('strict-transport-security', `max-age=${oneYear}`);
}
