import Bowser from 'bowser';

/**
 * What people call a browser and what it runs on, such as `Firefox on Windows`, of all that it says of itself in the
 * User-Agent header; the first word of a program that is no browser.
 */
export function programOf(agent: string): string {
  if (agent === '') return 'a program that does not say';
  const { browser, os } = Bowser.parse(agent);
  const name = browser.name || agent.split(/[ /]/)[0]!;
  return os.name ? `${name} on ${os.name}` : name;
}
