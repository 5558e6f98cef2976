import { createHmac, timingSafeEqual } from 'node:crypto';

/** What a link of ours in a mail is for: the picture that tells of opening, a link followed, unsubscribing, confirming a consent,
 * choosing among times, reading and answering a quote. */
export type LinkPurpose = 'open' | 'click' | 'unsubscribe' | 'consent' | 'times' | 'quote';

const tagBytes = 16;

/**
 * A token that names a mail and the number of one of its links, and that nobody else can make: 16 bytes of id, 2 of
 * number, and the first 128 bits of their HMAC-SHA256 (RFC 2104) under the purpose. It never holds an address.
 */
export function signLink(key: Buffer, purpose: LinkPurpose, mailId: string, number = 0): string {
  const what = Buffer.alloc(18);
  Buffer.from(mailId.replaceAll('-', ''), 'hex').copy(what);
  what.writeUInt16BE(number, 16);
  return Buffer.concat([what, tagOf(key, purpose, what)]).toString('base64url');
}

/** What a token names; null when it was not made here for this purpose. */
export function readLink(
  key: Buffer,
  purpose: LinkPurpose,
  token: string,
): { readonly mailId: string; readonly number: number } | null {
  const bytes = Buffer.from(token, 'base64url');
  if (bytes.length !== 18 + tagBytes) return null;
  const what = bytes.subarray(0, 18);
  if (!timingSafeEqual(bytes.subarray(18), tagOf(key, purpose, what))) return null;
  const hex = what.toString('hex', 0, 16);
  const parts = [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20)];
  return { mailId: parts.join('-'), number: what.readUInt16BE(16) };
}

function tagOf(key: Buffer, purpose: LinkPurpose, what: Buffer): Buffer {
  return createHmac('sha256', key).update(purpose).update(what).digest().subarray(0, tagBytes);
}

const address = /https?:\/\/[^\s<>"'()[\]{}]+/g;

/** The web addresses in a text with their places; a full stop or comma at the end belongs to the sentence. */
export function linksIn(
  text: string,
): { readonly url: string; readonly start: number; readonly end: number }[] {
  return [...text.matchAll(address)].flatMap((found) => {
    const url = found[0].replace(/[.,;:!?]+$/, '');
    return URL.canParse(url) ? [{ url, start: found.index, end: found.index + url.length }] : [];
  });
}
