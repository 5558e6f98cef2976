import { promises as dns } from 'node:dns';
import { Readable } from 'node:stream';
import type { CheckResult } from '@kettle/core/mail';
import type { DNSResolver } from 'mailauth';

export interface MailToCheck {
  readonly content: Buffer;
  readonly envelopeFrom: string | null;
  /** Who handed it over. */
  readonly remoteAddress: string;
  /** How they named themselves. */
  readonly helo: string;
}

const mostMillis = 15_000;
const partBytes = 65_536;

/**
 * Checks by whom a mail that was handed to us was sent: SPF (RFC 7208), DKIM (RFC 6376), DMARC (RFC 7489). A signature that
 * covers only a part of the mail counts as none: anybody may have added the rest. When names cannot be looked up the
 * results say so (`temperror`), which proves nothing and contradicts nothing.
 * @returns null when it took too long or the mail could not be checked at all
 */
export async function checkMail(
  mail: MailToCheck,
  resolver: DNSResolver = (name, type) => patiently(() => dns.resolve(name, type) as ReturnType<DNSResolver>),
): Promise<CheckResult[] | null> {
  let timer: NodeJS.Timeout | undefined;
  const tooLong = new Promise<null>((resolve) => {
    timer = setTimeout(() => resolve(null), mostMillis);
  });
  try {
    return await Promise.race([check(mail, resolver), tooLong]);
  } catch {
    return null;
  } finally {
    clearTimeout(timer);
  }
}

async function check(mail: MailToCheck, resolver: DNSResolver): Promise<CheckResult[]> {
  // In parts, so that other requests have their turn while a large one is read.
  const { authenticate } = await import('mailauth');
  const read = await authenticate(Readable.from(partsOf(mail.content)), {
    ip: mail.remoteAddress,
    helo: mail.helo,
    sender: mail.envelopeFrom ?? '',
    mta: 'kettle',
    disableArc: true,
    disableBimi: true,
    resolver,
  });
  const spf = read.spf && {
    method: 'spf',
    result: read.spf.status.result,
    properties: { 'smtp.mailfrom': read.spf.domain ?? mail.envelopeFrom ?? '' },
  };
  const dkim = read.dkim.results.map((each) => ({
    method: 'dkim',
    result: each.status.underSized ? 'policy' : each.status.result,
    properties: each.signingDomain ? { 'header.d': each.signingDomain } : {},
  }));
  const isPartly = dkim.some(({ result }) => result === 'policy');
  const dmarc = read.dmarc && {
    method: 'dmarc',
    // It may rest on a signature that does not cover the whole mail.
    result: isPartly && !(spf && spf.result === 'pass') ? 'none' : read.dmarc.status.result,
    properties: { 'header.from': read.dmarc.domain ?? '' },
  };
  return [spf, ...dkim, dmarc].filter((each) => !!each) as CheckResult[];
}

/** What a name server says when it could not answer just now; that a name has no such record is an answer. */
const passing = new Set(['ESERVFAIL', 'ETIMEOUT', 'EREFUSED', 'ECONNREFUSED', 'EAI_AGAIN']);

/** Asks again, twice, when an answer failed for the moment. */
export async function patiently<Answer>(ask: () => Promise<Answer>, waits = [300, 1500]): Promise<Answer> {
  try {
    return await ask();
  } catch (error) {
    const [wait, ...later] = waits;
    if (wait === undefined || !passing.has(String((error as NodeJS.ErrnoException).code))) throw error;
    await new Promise((resolve) => setTimeout(resolve, wait));
    return patiently(ask, later);
  }
}

function* partsOf(content: Buffer): Generator<Buffer> {
  for (let at = 0; at < content.length; at += partBytes) yield content.subarray(at, at + partBytes);
}
