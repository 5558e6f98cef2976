/** Legal forms that do not tell two firms apart. */
const legalForms =
  /\b(ltd|limited|plc|llp|llc|inc|co|company|bv|b v|nv|gmbh|ag|sa|lda|unipessoal|teo|dac)\b/g;

/** Lower case, without accents, punctuation or doubled spaces: names that a person would call the same are equal. */
export function nameKey(name: string): string {
  return name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/&/g, ' and ')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();
}

/** @example companyKey('Skell Bakery Ltd.') equals companyKey('SKELL BAKERY') */
export function companyKey(name: string): string {
  const key = nameKey(name);
  return key.replace(legalForms, ' ').replace(/\s+/g, ' ').trim() || key;
}

export function emailKey(email: string): string {
  return email.trim().toLowerCase();
}
