/** Phone numbers by the registry's metadata of national numbering plans: large, so only hosts that need it load it. */
import { parsePhoneNumberFromString, type CountryCode } from 'libphonenumber-js/max';

/** ITU-T E.164 (`+442079460018`), or null where the text is no valid number. `country`: ISO 3166-1 alpha-2. */
export function phoneNumber(text: string, country: string): string | null {
  const found = parsePhoneNumberFromString(text, { defaultCountry: country as CountryCode, extract: false });
  return found?.isValid() ? found.number : null;
}
