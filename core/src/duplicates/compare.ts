import type { Evidence, Likeness } from '@kettle/contract';
import { DOMAINS } from 'free-email-domains-list';
import { getDomain } from 'tldts';
import { companyKey, emailKey, nameKey } from './names';
import { jaroWinkler } from './jaro-winkler';

/** What two contacts are compared by. Numbers are E.164; every list may be empty. */
export interface Identity {
  readonly givenName: string;
  readonly familyName: string;
  readonly companies: readonly string[];
  readonly emails: readonly string[];
  readonly phones: readonly string[];
}

export interface Comparison {
  readonly likeness: Likeness | 'unlikely';
  /** 0 to 1, for ordering. */
  readonly score: number;
  readonly evidence: readonly Evidence[];
}

const freeMail = new Set<string>(DOMAINS);
/** From here up two names are called alike. */
const alikeFrom = 0.92;
const sameFrom = 0.97;

/**
 * The domain of a firm in an address or a link, after the public suffix list; null for free-mail services, which tell
 * nothing about a company.
 * @example companyDomain('ada@mail.skell.co.uk') is 'skell.co.uk'; companyDomain('ada@gmail.com') is null
 */
export function companyDomain(addressOrLink: string): string | null {
  const domain = getDomain(addressOrLink.trim().toLowerCase().split('@').at(-1) ?? '');
  return domain === null || freeMail.has(domain) ? null : domain;
}

/** How alike the names of two people are, 0 to 1: the better of the order given and swapped, an initial counts for its name. */
export function nameLikeness(
  one: Pick<Identity, 'givenName' | 'familyName'>,
  other: Pick<Identity, 'givenName' | 'familyName'>,
): number {
  const [given, family] = [nameKey(one.givenName), nameKey(one.familyName)];
  const [otherGiven, otherFamily] = [nameKey(other.givenName), nameKey(other.familyName)];
  if (!(given || family) || !(otherGiven || otherFamily)) return 0;
  return Math.max(
    pairLikeness([given, family], [otherGiven, otherFamily]),
    pairLikeness([given, family], [otherFamily, otherGiven]),
  );
}

function pairLikeness(
  [given, family]: [string, string],
  [otherGiven, otherFamily]: [string, string],
): number {
  const familyScore = jaroWinkler(family, otherFamily);
  if (!given || !otherGiven) return family && otherFamily ? familyScore * 0.9 : 0;
  const isInitial = given.length === 1 || otherGiven.length === 1;
  const givenScore = isInitial ? (given[0] === otherGiven[0] ? 0.9 : 0) : jaroWinkler(given, otherGiven);
  return givenScore * 0.45 + familyScore * 0.55;
}

/**
 * Compares two contacts and says why they may be one: an address in common is certain when the names are not unlike; a
 * number or a firm in common with a like name is likely; names alone, or a shared number with other names, are not enough.
 */
export function compareContacts(one: Identity, other: Identity): Comparison {
  const evidence: Evidence[] = [];
  const mail = shared(one.emails.map(emailKey), other.emails.map(emailKey));
  const number = shared(one.phones, other.phones);
  const firm = shared(one.companies.map(companyKey), other.companies.map(companyKey));
  const domain = shared(domainsOf(one), domainsOf(other));
  const name = nameLikeness(one, other);
  const isNamed = hasName(one) && hasName(other);
  if (mail) evidence.push({ about: 'mail', words: $localize`both have ${mail}:mail:` });
  if (number) evidence.push({ about: 'number', words: $localize`both have ${number}:number:` });
  if (name >= alikeFrom) evidence.push({ about: 'name', words: nameWords(one, other, name) });
  if (firm) evidence.push({ about: 'company', words: $localize`both at ${namedFirm(one, firm)}:one:` });
  else if (domain && !mail)
    evidence.push({ about: 'domain', words: $localize`both write from ${domain}:domain:` });
  const score = scoreOf({
    mail: mail !== null,
    number: number !== null,
    firm: firm !== null || domain !== null,
    name,
  });
  return { likeness: likenessOf({ mail, number, firm: firm ?? domain, name, isNamed }), score, evidence };
}

interface Shared {
  readonly mail: string | null;
  readonly number: string | null;
  readonly firm: string | null;
  readonly name: number;
  readonly isNamed: boolean;
}

function likenessOf({ mail, number, firm, name, isNamed }: Shared): Comparison['likeness'] {
  const isSameName = name >= sameFrom || !isNamed;
  if (mail && (isSameName || name >= 0.7)) return 'certain';
  if (number && name >= sameFrom) return 'certain';
  if (mail) return 'likely';
  if (number && name >= 0.8) return 'likely';
  if (firm && name >= alikeFrom) return 'likely';
  return 'unlikely';
}

function scoreOf(has: { mail: boolean; number: boolean; firm: boolean; name: number }): number {
  const left =
    (has.mail ? 0.2 : 1) * (has.number ? 0.45 : 1) * (has.firm ? 0.6 : 1) * (1 - 0.7 * has.name ** 4);
  return Math.round((1 - left) * 1000) / 1000;
}

function nameWords(one: Identity, other: Identity, likeness: number): string {
  if (likeness >= 1) return $localize`the same name`;
  const full = (each: Identity) => `${each.givenName} ${each.familyName}`.trim();
  return $localize`${full(one)}:one: and ${full(other)}:other: are ${Math.round(likeness * 100)}:likeness: % alike`;
}

const hasName = (one: Identity) => Boolean(one.givenName || one.familyName);

function namedFirm(one: Identity, key: string): string {
  return one.companies.find((name) => companyKey(name) === key) ?? key;
}

function domainsOf(one: Identity): string[] {
  return one.emails.map(companyDomain).filter((domain) => domain !== null);
}

function shared(one: readonly string[], other: readonly string[]): string | null {
  return one.find((value) => value !== '' && other.includes(value)) ?? null;
}
