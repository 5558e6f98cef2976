import type { Request, Response } from 'express';

/**
 * Answers 304 (RFC 9110, section 15.4.5) where whoever asks names what they have and it still stands; otherwise the reply to come carries
 * its tag. Browsers send `Cache-Control: no-cache` beside a tag that the page itself names, so that alone is no reason to send it again.
 * @returns whether it was answered
 */
export function isUnchanged(request: Request, response: Response, tag: string): boolean {
  const quoted = `"${tag}"`;
  response.set({ ETag: quoted, 'Cache-Control': 'no-store' });
  if (request.get('if-none-match') !== quoted) return false;
  response.status(304).end();
  return true;
}
