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

/** As firms are told apart; one named by signs alone is those signs. @example companyKey('Skell Bakery Ltd.') equals companyKey('SKELL BAKERY') */
export function companyKey(name: string): string {
  const key = nameKey(name);
  return key.replace(legalForms, ' ').replace(/\s+/g, ' ').trim() || key || name.trim();
}

export function emailKey(email: string): string {
  return email.trim().toLowerCase();
}

/**
 * Legal forms of firms as `nameKey` writes them: what they say does not tell two firms apart. After the registers of the countries, from
 * memory (ISO 20275 lists them all).
 */
const allForms = [
  // English
  'ltd|limited|plc|llp|llc|l l c|lp|inc|incorporated|corp|corporation|co|company|cic|pty ltd|pty limited|pty|dac|teo|teoranta|clg|uc|ulc',
  // German
  'gmbh|ggmbh|gesmbh|ges m b h|g m b h|mbh|ag|kg|kgaa|ohg|ug|ug haftungsbeschrankt|e k|ek|e kfr|e kfm|e v|ev|e g|eg|gbr|se',
  // Dutch and Belgian
  'bv|b v|nv|n v|vof|v o f|cv|c v|bvba|cvba|besloten vennootschap',
  // French
  'sa|s a|sas|s a s|sasu|sarl|s a r l|eurl|e u r l|sci|snc|s n c|sprl|srl|gie|societe anonyme',
  // Spanish
  'sl|s l|slu|s l u|sll|sociedad limitada|sociedad anonima|sau|s a u|s coop|cb|c b|sa de cv|s a de c v|s de rl|s de r l',
  // Portuguese
  'lda|ltda|limitada|unipessoal|unipessoal lda|eireli',
  // Italian
  'spa|s p a|s r l|srls|s r l s|s a s|s n c|soc coop|scarl',
  // Nordic
  'ab|a b|hb|h b|kb|oy|oyj|as|a s|asa|aps|i s|k s|ans|ehf',
  // Polish, Czech and others
  'sp z o o|sp z oo|spolka z o o|sp k|sp j|s k a|spolka akcyjna|s r o|sro|kft|zrt|doo|d o o',
]
  .flatMap((forms) => forms.split('|'))
  .sort((one, other) => other.length - one.length);

const endForm = new RegExp(String.raw`(?: and)?(?: (?:${allForms.join('|')}))$`);
const startForm = /^(?:ab|sarl|sas|eurl|ets|etablissements|societe|firma) (?=\p{L}{3})/u;
const article = /^(?:the|die|der|das|le|la|les|el|los|las|il|lo|de|het|os) (?=\p{L}{3})/u;

/**
 * A name as it is compared: umlauts and their spellings (`ü`, `ue`, `u`) are one, as are letters with strokes and their plain ones.
 * @example spelledKey('Müller') equals spelledKey('Mueller')
 */
export function spelledKey(name: string): string {
  return nameKey(name.replace(/[øœæßłđðþı]/gi, (letter) => plainLetters[letter.toLowerCase()]!))
    .replace(/([aou])e/g, '$1')
    .replace(/aa/g, 'a');
}

const plainLetters: Readonly<Record<string, string>> = {
  ø: 'o',
  œ: 'oe',
  æ: 'ae',
  ß: 'ss',
  ł: 'l',
  đ: 'd',
  ð: 'd',
  þ: 'th',
  ı: 'i',
};

/**
 * A firm's name as it is compared, without its legal form in any country's spelling and without an article in front. What is stored is
 * found by `companyKey`, which knows fewer of them.
 * @example firmKey('Müller GmbH & Co. KG') equals firmKey('Mueller')
 */
export function firmKey(name: string): string {
  const key = nameKey(name);
  let bare = key.replace(article, '').replace(startForm, '');
  for (let before = ''; before !== bare;) {
    before = bare;
    bare = bare.replace(endForm, '').replace(/ and$/, '');
  }
  return spelledKey(bare.trim() || key);
}

/** Whether a name ends with the legal form of a firm. @example hasLegalForm('Penrow Bakery Ltd') */
export const hasLegalForm = (name: string): boolean => {
  const key = nameKey(name);
  return key.includes(' ') && endForm.test(key);
};
