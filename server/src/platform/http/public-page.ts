import type { Response } from 'express';
import type { Services } from '../services';
import { nonceOf } from './headers';
import { escapeHtml } from './html';

/** A page for somebody who is not signed in: reached by a link in a mail, or standing in another site. */
export interface PublicPage {
  readonly title: string;
  /** HTML; whoever makes it escapes what it is made of. */
  readonly body: string;
  readonly status?: number;
  /** The sites that may show it inside a page of theirs; nobody when left out. */
  readonly frameAncestors?: string;
}

const style = `
  body { margin: 0; padding: 24px; background: #F7F5F1; color: #24211D; font: 16px/1.5 system-ui, sans-serif; }
  main { max-inline-size: 34rem; margin-inline: auto; }
  .sender { margin: 0 0 1.5rem; color: #675F55; font-weight: 600; }
  h1 { font-size: 1.4rem; margin: 0 0 1rem; }
  label, .row { display: block; margin-block-end: 1rem; }
  label > span { display: block; font-weight: 600; }
  input:not([type=checkbox]):not([type=radio]), textarea { inline-size: 100%; box-sizing: border-box; padding: .5rem; border: 1px solid #675F55;
    border-radius: 3px; background: #fff; color: inherit; font: inherit; }
  label.tick { display: grid; grid-template-columns: auto 1fr; gap: .6rem; }
  label.tick > span { font-weight: 400; }
  .wrong { color: #8A3613; font-weight: 600; }
  button { padding: .6rem 1.4rem; border: 0; border-radius: 3px; background: #1F5F66; color: #fff; font: inherit; cursor: pointer; }
  h2 { font-size: 1.1rem; margin: 1.5rem 0 .75rem; }
  table { inline-size: 100%; border-collapse: collapse; margin-block: 1rem; }
  th, td { padding: .5rem 0; border-block-end: 1px solid #DDD7CC; text-align: start; vertical-align: top; font-weight: 400; }
  td { padding-inline-start: 1rem; text-align: end; font-variant-numeric: tabular-nums; }
  td:last-child { white-space: nowrap; }
  tfoot tr:last-child > * { font-weight: 600; }
  summary { padding-block: .5rem; color: #1F5F66; cursor: pointer; }
  a { color: #1F5F66; }
  .besides { position: absolute; inset-inline-start: -999rem; }`;

/** Sends it under the organisation's name, if it has one. No script, no cookie, nothing from elsewhere, kept by nobody. */
export async function sendPublicPage(
  { settings, database }: Pick<Services, 'settings' | 'database'>,
  response: Response,
  { title, body, status = 200, frameAncestors = "'none'" }: PublicPage,
): Promise<void> {
  const { organisation } = await settings.read(database);
  const sender = organisation.name === '' ? '' : `<p class="sender">${escapeHtml(organisation.name)}</p>`;
  const nonce = nonceOf(response);
  if (frameAncestors !== "'none'") response.removeHeader('X-Frame-Options');
  response
    .status(status)
    .set({
      'Content-Type': 'text/html; charset=utf-8',
      'Cache-Control': 'no-store',
      'Content-Security-Policy': `default-src 'none'; style-src 'nonce-${nonce}'; form-action 'self'; base-uri 'none'; frame-ancestors ${frameAncestors}`,
    })
    .send(
      `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>${escapeHtml(title)}</title><style nonce="${nonce}">${style}</style></head>
<body><main>${sender}<h1>${escapeHtml(title)}</h1>${body}</main></body></html>`,
    );
}

/** A page that says one thing. */
export const sendPublicMessage = (
  services: Pick<Services, 'settings' | 'database'>,
  response: Response,
  message: Omit<PublicPage, 'body'> & { readonly words: string },
) =>
  sendPublicPage(services, response, {
    ...message,
    body: `<p role="status">${escapeHtml(message.words)}</p>`,
  });
