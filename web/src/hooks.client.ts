import { isUnreached, missedPages } from '$lib/network.ts';
import type { HandleClientError } from '@sveltejs/kit';

/** What a page says that could not be shown; what is a fault of ours is told in the console too. */
export const handleError: HandleClientError = ({ error, event, status, message }) => {
  if (isUnreached(error)) {
    missedPages.add(event.url.href);
    return { message: 'The page could not be read. What you changed is kept in this browser.', away: true };
  }
  if (status === 404) return { message: 'There is nothing at this address.' };
  console.error(error);
  return { message };
};
