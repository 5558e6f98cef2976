import { hash } from '@node-rs/argon2';
import { Problem } from '../../platform/problem';

/** Argon2id with the package's defaults, which follow RFC 9106's second recommendation in memory and passes. */
export const hashPassword = (password: string) => hash(password);

let common: Promise<ReadonlySet<string>> | null = null;

/** Passwords that were found in many leaks, in lower case. */
function commonPasswords(): Promise<ReadonlySet<string>> {
  common ??= import('@zxcvbn-ts/language-common').then(
    ({ dictionary }) => new Set<string>(dictionary['passwords-common'] as readonly string[]),
  );
  return common;
}

const leastLeft = 8;

/**
 * Refuses a new password that is common, one character again and again, or little more than its owner's name, address or this program's name
 * (OWASP ASVS 4.0.3, 2.1.7; how long it must be, the contract says).
 * @throws Problem `invalid-request` at the field
 */
export async function assertGoodPassword(
  password: string,
  owner: { readonly name: string; readonly email: string },
): Promise<void> {
  const low = password.toLowerCase();
  const plain = low.replace(/[^\p{L}\p{N}]/gu, '');
  if ((await commonPasswords()).has(low) || (await commonPasswords()).has(plain))
    throw weak($localize`is one of the most used passwords; choose another`);
  if (new Set(low).size < 5) throw weak($localize`is few characters again and again; choose another`);
  const words = [...owner.name.split(/\s+/), ...owner.email.split(/[@.]/), 'ashkettle', 'kettle', 'password']
    .map((word) => word.toLowerCase().replace(/[^\p{L}\p{N}]/gu, ''))
    .filter((word) => word.length >= 3);
  const left = words.reduce((rest, word) => rest.replaceAll(word, ''), plain);
  if (left.length < leastLeft)
    throw weak($localize`is little more than your name, your address or ours; choose another`);
}

const weak = (message: string) =>
  new Problem('invalid-request', {}, { fields: [{ path: 'password', message }] });
