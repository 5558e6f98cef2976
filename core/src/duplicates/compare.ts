import type { Evidence, Likeness } from '@kettle/contract';
import { DOMAINS } from 'free-email-domains-list';
import { getDomain } from 'tldts';
import { isMobileNumber } from '../phone';
import { emailKey, firmKey } from './names';
import { compareNames, type NameRelation } from './person-names';
import { isSharedMailbox } from './shared-mailbox';

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

/** Made when it is first asked for: tens of thousands of names, which a program that starts has no need of yet. */
let freeMail: ReadonlySet<string> | undefined;

/**
 * The domain of a firm in an address or a link, in ASCII (RFC 5891), after the public suffix list with its private part: firms that share a
 * provider's domain are not one. Null for free-mail services, which tell nothing about a company.
 * @example companyDomain('ada@mail.skell.co.uk') is 'skell.co.uk'; companyDomain('ada@gmail.com') is null
 * @example companyDomain('ada@müller.example') is 'xn--mller-kva.example'; companyDomain('https://wren.github.io') is 'wren.github.io'
 */
export function companyDomain(addressOrLink: string): string | null {
  const host = hostOf(addressOrLink.trim().split('@').at(-1) ?? '');
  const domain = host === null ? null : getDomain(host, { allowPrivateDomains: true });
  freeMail ??= new Set<string>(DOMAINS);
  return domain === null || freeMail.has(domain) ? null : domain;
}

/** The host of a link or of an address's end, in ASCII. */
function hostOf(text: string): string | null {
  try {
    return new URL(/^[a-z][a-z\d+.-]*:\/\//i.test(text) ? text : `https://${text}`).hostname.replace(
      /\.$/,
      '',
    );
  } catch {
    return null;
  }
}

/**
 * Compares two contacts and says why they may be one. Certain takes what only one person has (their own address or mobile number) and
 * a name that agrees with it. A shared mailbox or switchboard, or a firm in common, with a name that agrees is likely; so is an own
 * address under another name, which is asked about. Names alone, or what is shared under other names, are not enough.
 */
export function compareContacts(one: Identity, other: Identity): Comparison {
  const evidence: Evidence[] = [];
  const mails = allShared(one.emails.map(emailKey), other.emails.map(emailKey));
  const numbers = allShared(one.phones, other.phones);
  const firm = allShared(one.companies.map(firmKey), other.companies.map(firmKey))[0] ?? null;
  const domain = allShared(domainsOf(one), domainsOf(other))[0] ?? null;
  const name = compareNames(one, other);
  if (mails.length > 0) evidence.push({ about: 'mail', words: $localize`both have ${mails[0]!}:mail:` });
  if (numbers.length > 0)
    evidence.push({ about: 'number', words: $localize`both have ${numbers[0]!}:number:` });
  const agrees = agreeing.includes(name);
  if (agrees) evidence.push({ about: 'name', words: nameWords(one, other, name) });
  if (firm !== null)
    evidence.push({ about: 'company', words: $localize`both at ${namedFirm(one, firm)}:one:` });
  else if (domain !== null && mails.length === 0)
    evidence.push({ about: 'domain', words: $localize`both write from ${domain}:domain:` });
  const signs: Signs = {
    ownMail: mails.some((mail) => !isSharedMailbox(mail)),
    sharedMail: mails.some(isSharedMailbox),
    mobile: numbers.some(isMobileNumber),
    number: numbers.length > 0,
    firm: firm !== null || domain !== null,
    name,
  };
  return { likeness: likenessOf(signs), score: scoreOf(signs), evidence };
}

interface Signs {
  readonly ownMail: boolean;
  readonly sharedMail: boolean;
  readonly mobile: boolean;
  readonly number: boolean;
  readonly firm: boolean;
  readonly name: NameRelation;
}

/** Names that may be one person's. */
const agreeing: readonly NameRelation[] = ['same', 'like', 'initial'];

function likenessOf({ ownMail, sharedMail, mobile, number, firm, name }: Signs): Comparison['likeness'] {
  const agrees = agreeing.includes(name);
  if ((ownMail || mobile) && (name === 'same' || name === 'like')) return 'certain';
  if (ownMail) return 'likely';
  if (mobile && name !== 'differs') return 'likely';
  if (agrees && (number || sharedMail || firm)) return 'likely';
  return 'unlikely';
}

const nameWeight: Readonly<Record<NameRelation, number>> = {
  same: 0.3,
  like: 0.4,
  initial: 0.55,
  part: 0.75,
  unknown: 1,
  differs: 1,
};

/** For ordering only: each sign leaves a share of the doubt. */
function scoreOf({ ownMail, sharedMail, mobile, number, firm, name }: Signs): number {
  const left =
    (ownMail ? 0.2 : sharedMail ? 0.6 : 1) *
    (mobile ? 0.3 : number ? 0.55 : 1) *
    (firm ? 0.6 : 1) *
    nameWeight[name];
  return Math.round((1 - left) * 1000) / 1000;
}

function nameWords(one: Identity, other: Identity, relation: NameRelation): string {
  const full = (each: Identity) => `${each.givenName} ${each.familyName}`.trim();
  if (full(one) === full(other)) return $localize`the same name`;
  if (relation === 'same') return $localize`${full(one)}:one: and ${full(other)}:other: are one name`;
  return $localize`${full(one)}:one: and ${full(other)}:other: are alike`;
}

function namedFirm(one: Identity, key: string): string {
  return one.companies.find((name) => firmKey(name) === key) ?? key;
}

function domainsOf(one: Identity): string[] {
  return one.emails.map(companyDomain).filter((domain) => domain !== null);
}

const allShared = (one: readonly string[], other: readonly string[]): string[] =>
  one.filter((value) => value !== '' && other.includes(value));
