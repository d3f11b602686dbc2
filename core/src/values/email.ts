/**
 * Email addresses as RFC 5321 writes them on the wire (4.1.2): a Dot-string before the @, of at most 64 octets, and a
 * domain of at least two labels as the trade has it (common practice); 254 octets in all (4.5.3.1 with the brackets of
 * the path left out). Quoted local parts and address literals are legal there and none that a CRM should take.
 */
const atom = "[A-Za-z0-9!#$%&'*+/=?^_`{|}~-]+";
const label = '[A-Za-z0-9](?:[A-Za-z0-9-]{0,61}[A-Za-z0-9])?';
const address = new RegExp(`^(?=[^@]{1,64}@)${atom}(?:\\.${atom})*@${label}(?:\\.${label})+$`);

const longest = 254;

export const isEmail = (text: string): boolean => text.length <= longest && address.test(text);
