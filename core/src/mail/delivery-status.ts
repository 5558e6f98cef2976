/** One address that a delivery report speaks of. */
export interface FailedDelivery {
  readonly address: string;
  /** The enhanced status code, `5.1.1`; empty when the report has none. */
  readonly status: string;
  /** True when the address will not work later either. */
  readonly isFinal: boolean;
  readonly diagnostic: string;
}

/**
 * Reads the body of a `message/delivery-status` part: groups of fields divided by empty lines, the first about the whole
 * message, each further one about one recipient. Only failed and delayed recipients are answered; a failure is final
 * when its status is of class 5 and is not of those that pass with time (a full mailbox, 5.2.2, does not).
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
  const recipient = fields.get('final-recipient') ?? fields.get('original-recipient');
  const action = fields.get('action')?.trim().toLowerCase();
  if (recipient === undefined || (action !== 'failed' && action !== 'delayed')) return null;
  const status = /\d\.\d{1,3}\.\d{1,3}/.exec(fields.get('status') ?? '')?.[0] ?? '';
  return {
    address: afterType(recipient).replace(/^<|>$/g, '').toLowerCase(),
    status,
    isFinal: action === 'failed' && !passesWithTime(status),
    diagnostic: afterType(fields.get('diagnostic-code') ?? ''),
  };
}

/** Class 4 is transient; a full mailbox (x.2.2) and a system that takes nothing just now (x.3.2) pass too. */
const passesWithTime = (status: string) => status.startsWith('4.') || /\.(2\.2|3\.2)$/.test(status);

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
