import { getDomain } from 'tldts';
import type { CheckResult } from './authentication-results';

/** How far it is known that a mail is from whom it names: shown by the domain, contradicted by it, or neither. */
export type MailProof = 'proven' | 'unproven' | 'contradicted';

export interface JudgedProof {
  readonly proof: MailProof;
  /** The checks in short: `SPF pass (firm.example), DMARC pass`. */
  readonly words: string;
}

const shownMethods = ['spf', 'dkim', 'dmarc'];

/**
 * Judges the checks of a mail for the address it says it is from. Proven is what its domain's own rule passes (DMARC), or,
 * where the domain has none, what is signed by that domain or sent from its servers; a higher domain may answer for a
 * lower one. A failing DMARC contradicts. Passing checks of other domains prove nothing.
 * @param results null when nobody checked
 * @see RFC 7489, sections 3.1 and 6.6; RFC 8601, section 2.7
 */
export function judgeProof(fromAddress: string, results: readonly CheckResult[] | null): JudgedProof {
  const domain = domainOf(fromAddress);
  if (results === null || domain === '')
    return { proof: 'unproven', words: $localize`nobody checked who it is from` };
  const shown = results.filter(({ method }) => shownMethods.includes(method));
  const words = shown.map(wordsOf).join(', ') || $localize`nothing about it was found`;
  const dmarc = results.find(({ method }) => method === 'dmarc');
  const spoken = dmarc?.properties['header.from'];
  const isOfDomain = spoken === undefined || domainOf(spoken) === domain;
  if (dmarc?.result === 'pass') return { proof: isOfDomain ? 'proven' : 'unproven', words };
  if (dmarc?.result === 'fail') return { proof: 'contradicted', words };
  const isVouched = results.some(
    (each) => each.result === 'pass' && vouchersOf(each).some((voucher) => isAligned(voucher, domain)),
  );
  return { proof: isVouched ? 'proven' : 'unproven', words };
}

/** The domains that a passing check speaks for. */
function vouchersOf({ method, properties }: CheckResult): string[] {
  const names = { spf: ['smtp.mailfrom'], dkim: ['header.d', 'header.i'] }[method] ?? [];
  return names.flatMap((name) => properties[name] ?? []).map(domainOf);
}

/** Both lie under one registered domain: what DMARC calls relaxed alignment. */
function isAligned(one: string, other: string): boolean {
  const withPrivate = { allowPrivateDomains: true };
  const registered = getDomain(one, withPrivate);
  return registered !== null && registered === getDomain(other, withPrivate);
}

/** What follows the last `@`, or the whole; in lower case, without a dot at its end. */
const domainOf = (address: string) =>
  address
    .slice(address.lastIndexOf('@') + 1)
    .toLowerCase()
    .replace(/\.$/, '');

function wordsOf({ method, result, properties }: CheckResult): string {
  const of = vouchersOf({ method, result, properties })[0];
  return `${method.toUpperCase()} ${result}${of ? ` (${of})` : ''}`;
}
