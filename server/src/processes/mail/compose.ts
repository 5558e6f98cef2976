import { escapeHtml } from '../../platform/http/html';
import { linksIn, signLink } from '../../activity/outbox/index';

export interface LetterSetting {
  readonly mailId: string;
  readonly key: Buffer;
  /** The address links begin with. */
  readonly origin: string;
  readonly tracksOpens: boolean;
  readonly tracksClicks: boolean;
}

/** The HTML part of a letter: its paragraphs and links, nothing else but, when asked for, the picture that tells of opening. */
export function htmlOf(text: string, setting: LetterSetting): string {
  const body = withLinks(text, setting)
    .split(/\n{2,}/)
    .map((paragraph) => `<p>${paragraph.replaceAll('\n', '<br>\n')}</p>`)
    .join('\n');
  const picture = setting.tracksOpens
    ? `\n<img src="${linkTo(setting, 'open', 0)}" width="1" height="1" alt="">`
    : '';
  return `<!doctype html>\n<html><body>\n${body}${picture}\n</body></html>`;
}

function withLinks(text: string, setting: LetterSetting): string {
  let html = '';
  let from = 0;
  linksIn(text).forEach(({ url, start, end }, number) => {
    const to = setting.tracksClicks ? linkTo(setting, 'click', number) : url;
    html += `${escapeHtml(text.slice(from, start))}<a href="${escapeHtml(to)}">${escapeHtml(url)}</a>`;
    from = end;
  });
  return html + escapeHtml(text.slice(from));
}

const places = { open: 'o', click: 'c', unsubscribe: 'u' } as const;

export function linkTo(
  { origin, key, mailId }: Pick<LetterSetting, 'origin' | 'key' | 'mailId'>,
  purpose: keyof typeof places,
  number = 0,
): string {
  return `${origin}/out/${places[purpose]}/${signLink(key, purpose, mailId, number)}`;
}

/** @see RFC 2369 for the header, RFC 8058 for unsubscribing in one click */
export function unsubscribeHeaders(
  setting: Pick<LetterSetting, 'origin' | 'key' | 'mailId'>,
  mailDomain: string,
): Record<string, string> {
  const token = signLink(setting.key, 'unsubscribe', setting.mailId);
  return {
    'List-Unsubscribe': `<${linkTo(setting, 'unsubscribe')}>, <mailto:unsubscribe@${mailDomain}?subject=unsubscribe%20${token}>`,
    'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click',
  };
}
