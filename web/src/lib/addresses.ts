/** Where everything stands: the addresses of all areas and of what is in them, built here alone. */

const query = (given: Readonly<Record<string, string | undefined>>): string => {
  const params = new URLSearchParams(
    Object.entries(given).flatMap(([name, value]) => (value === undefined ? [] : [[name, value]])),
  ).toString();
  return params && `?${params}`;
};

export const deskPath = '/desk';
export const fieldsPath = '/fields';
export const mappingsPath = '/mappings';
export const findingsPath = '/findings';
export const testsPath = '/tests';
export const dryRunPath = '/dry-run';
export const releasePath = '/release';
export const recordsPath = '/records';
export const settingsPath = '/settings';
export const documentPath = '/document';
/** No page of its own. */
export const mapPath = '/map';

/** Keys of record types, fields, rules and tables have no character that an address writes otherwise. */
export const deskOf = (recordType: string, at: { readonly field?: string; readonly test?: string } = {}): string =>
  `${deskPath}/${recordType}${query(at)}`;
export const ruleAddress = (recordType: string, rule: string): string => `${deskPath}/${recordType}/${rule}`;

export const testsOfType = (recordType: string): string => `${testsPath}/${recordType}`;
/** The tests of a rule, or one of them. */
export const testsAddress = (recordType: string, rule: string, test?: string): string =>
  `${testsPath}/${recordType}/${rule}${query({ test })}`;

export const driftPath = '/drift';
export const driftOf = (at: { readonly type?: string; readonly field?: string } = {}): string =>
  `${driftPath}${query(at)}`;
export const dryRunOf = (
  recordType: string,
  at: { readonly field?: string; readonly from?: string; readonly to?: string; readonly message?: string } = {},
): string => `${dryRunPath}/${recordType}${query(at)}`;

export const fieldsOf = (recordType: string, at: { readonly field?: string; readonly new?: '1' } = {}): string =>
  `${fieldsPath}/${recordType}${query(at)}`;

/** What a release changed about the one before it, or would change about the one that is live. */
export const releaseAddress = (number: number, against?: 'live'): string =>
  `${releasePath}/${number}${query({ against })}`;

export const mappingAddress = (table: string): string => `${mappingsPath}/${table}`;
export const mapOf = (recordType: string): string => `${mapPath}/${recordType}`;
export const documentOf = (recordType: string): string => `${documentPath}#${recordType}`;

/** `asked`: what the list shows, as its address carries it. */
export const recordsOf = (recordType: string, asked = ''): string =>
  `${recordsPath}/${recordType}${asked && `?${asked}`}`;
export const recordAddress = (recordType: string, id: string | number): string => `${recordsPath}/${recordType}/${id}`;
export const newRecordAddress = (recordType: string, form?: string): string =>
  `${recordsPath}/${recordType}/new${query({ form })}`;
export const notSettledPath = `${recordsPath}/not-settled`;
