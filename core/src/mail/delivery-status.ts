import { folded } from './days-in-text';
import { delayWords, notTheAddressWords, unknownAddressWords } from './machine-words';

/** One address that a delivery report speaks of. */
export interface FailedDelivery {
  /** Where it was to go in the end. */
  readonly address: string;
  /** The address it was sent to, when the report says that it was handed on from there. */
  readonly sentTo: string | null;
  /** The enhanced status code, `5.1.1`; empty when the report has none. */
  readonly status: string;
  /** True when the address will not work later either. */
  readonly isFinal: boolean;
  readonly diagnostic: string;
}

/**
 * Reads the body of a `message/delivery-status` part: groups of fields divided by empty lines, the first about the whole
 * message, each further one about one recipient. Only failed and delayed recipients are answered.
 * @see RFC 3464, section 2; RFC 3463 for the codes
 */
export function readDeliveryStatus(body: string): FailedDelivery[] {
  return body
    .replaceAll('\r\n', '\n')
    .split(/\n[ \t]*\n/)
    .map(fieldsOf)
    .flatMap((fields) => deliveryOf(fields) ?? []);
}

function deliveryOf(fields: ReadonlyMap<string, string>): FailedDelivery | null {
  const original = fields.get('original-recipient');
  const recipient = fields.get('final-recipient') ?? original;
  const action = fields.get('action')?.trim().toLowerCase();
  if (recipient === undefined || (action !== 'failed' && action !== 'delayed')) return null;
  const status = statusIn(fields.get('status') ?? '');
  const diagnostic = afterType(fields.get('diagnostic-code') ?? '');
  return {
    address: addressIn(recipient),
    sentTo: original === undefined ? null : addressIn(original),
    status,
    isFinal: action === 'failed' && isTheAddress(status, diagnostic),
    diagnostic,
  };
}

/**
 * Reads a return of the older kind, which names its recipients in a header or in paragraphs that begin with `<address>:`.
 * @param failedRecipients of the header `X-Failed-Recipients`, when there is one
 */
export function readPlainReturn(text: string, failedRecipients = ''): FailedDelivery[] {
  const own = text.split(/^-+ ?(?:below this line|this is a copy|original message)/im)[0]!;
  const isDelayed = delayWords.test(folded(own));
  const paragraphs = [...own.matchAll(/^<([^<>\s]+@[^<>\s]+)>:\s*\n?((?:.*\S.*\n?)+)/gm)].map(
    ([, address = '', said = '']) => [address, said] as const,
  );
  const named = failedRecipients.split(/[,\s]+/).filter((each) => each.includes('@'));
  const told = paragraphs.length > 0 ? paragraphs : named.map((address) => [address, own] as const);
  return told.map(([address, said]) => {
    const status = statusIn(said);
    const diagnostic = said.replace(/\s+/g, ' ').trim().slice(0, 300);
    return {
      address: address.toLowerCase(),
      sentTo: null,
      status,
      isFinal: !isDelayed && isTheAddress(status, diagnostic),
      diagnostic,
    };
  });
}

/** Whether a report says that mail to this address will not arrive later either. */
export const hasFailedForGood = (failed: readonly FailedDelivery[], address: string): boolean =>
  failed.some((each) => each.isFinal && [each.address, each.sentTo].includes(address.toLowerCase()));

/** No such mailbox, no such domain, no address, moved, takes no mail at all, closed, no way to the domain: RFC 3463, RFC 7505. */
const addressCodes = ['5.1.1', '5.1.2', '5.1.3', '5.1.6', '5.1.10', '5.2.1', '5.4.4'];
/** Codes that say no more than that it failed; what is said beside them decides. */
const plainCodes = ['', '5.0.0', '5.1.0', '5.5.0'];

function isTheAddress(status: string, diagnostic: string): boolean {
  const said = folded(diagnostic);
  if (notTheAddressWords.test(said)) return false;
  return addressCodes.includes(status) || (plainCodes.includes(status) && unknownAddressWords.test(said));
}

const statusIn = (text: string) => /(?<!\d|\d\.)[245]\.\d{1,3}\.\d{1,3}(?!\.?\d)/.exec(text)?.[0] ?? '';

/** `rfc822; <ada@firm.example>` without its type and marks. */
const addressIn = (value: string) => afterType(value).replace(/^<|>$/g, '').toLowerCase();

/** `rfc822; ada@firm.example` without its type. */
const afterType = (value: string) => value.slice(value.indexOf(';') + 1).trim();

function fieldsOf(group: string): Map<string, string> {
  const unfolded = group.replace(/\n[ \t]+/g, ' ');
  return new Map(
    unfolded.split('\n').flatMap((line) => {
      const colon = line.indexOf(':');
      return colon < 1
        ? []
        : [[line.slice(0, colon).trim().toLowerCase(), line.slice(colon + 1).trim()] as const];
    }),
  );
}
