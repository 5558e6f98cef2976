import type { WebForm } from '@kettle/contract';
import { escapeHtml } from '../mail/index';

/** What a stranger typed, and what was wrong with it, by field. */
export interface FormState {
  readonly values: Readonly<Record<string, string>>;
  readonly wrong: Readonly<Record<string, string>>;
  readonly token: string;
}

const style = `
  body { margin: 0; padding: 24px; background: #F7F5F1; color: #24211D; font: 16px/1.5 system-ui, sans-serif; }
  main { max-inline-size: 34rem; margin-inline: auto; }
  h1 { font-size: 1.4rem; margin: 0 0 1rem; }
  label, .row { display: block; margin-block-end: 1rem; }
  label > span { display: block; font-weight: 600; }
  input:not([type=checkbox]), textarea { inline-size: 100%; box-sizing: border-box; padding: .5rem; border: 1px solid #675F55;
    border-radius: 3px; background: #fff; color: inherit; font: inherit; }
  label.tick { display: grid; grid-template-columns: auto 1fr; gap: .6rem; }
  label.tick > span { font-weight: 400; }
  .wrong { color: #8A3613; font-weight: 600; }
  button { padding: .6rem 1.4rem; border: 0; border-radius: 3px; background: #1F5F66; color: #fff; font: inherit; cursor: pointer; }
  .besides { position: absolute; inset-inline-start: -999rem; }`;

/** The page of a form, to stand by itself or inside another page. No script, no cookie, nothing from elsewhere. */
export function formPage(form: WebForm, state: FormState, nonce: string): string {
  const field = (name: string, label: string, type: string, more = '') => {
    const wrong = state.wrong[name];
    const value = escapeHtml(state.values[name] ?? '');
    const mark = wrong === undefined ? '' : ` aria-invalid="true" aria-describedby="${name}-wrong"`;
    const control =
      type === 'textarea'
        ? `<textarea name="${name}" rows="4"${more}${mark}>${value}</textarea>`
        : `<input name="${name}" type="${type}" value="${value}"${more}${mark}>`;
    return `<label><span>${label}</span>${control}${wrongOf(name, wrong)}</label>`;
  };
  const ticked = state.values.consent === 'yes' ? ' checked' : '';
  const { form: whole } = state.wrong;
  return page(
    form.title,
    `<form method="post" novalidate>
${whole === undefined ? '' : `<p class="wrong" role="alert">${escapeHtml(whole)}</p>`}
${field('name', 'Your name', 'text', ' required maxlength="160" autocomplete="name"')}
${field('email', 'E-mail', 'email', ' required maxlength="254" autocomplete="email"')}
${form.asksPhone ? field('phone', 'Telephone (if you like)', 'tel', ' maxlength="40" autocomplete="tel"') : ''}
${form.asksCompany ? field('company', 'Company (if any)', 'text', ' maxlength="160" autocomplete="organization"') : ''}
${form.asksPostcode ? field('postcode', 'Postcode', 'text', ' maxlength="20" autocomplete="postal-code"') : ''}
${field('message', 'What is it about?', 'textarea', ' required maxlength="4000"')}
<div class="besides" aria-hidden="true"><label>Leave this empty<input name="homepage" tabindex="-1" autocomplete="off"></label></div>
<input type="hidden" name="token" value="${escapeHtml(state.token)}">
<label class="tick"><input name="consent" type="checkbox" value="yes"${ticked}><span>${escapeHtml(form.consentWords)}${wrongOf('consent', state.wrong.consent)}</span></label>
<button>Send</button>
</form>`,
    nonce,
  );
}

/** Words and one button that agrees to them. */
export const questionPage = (title: string, words: string, button: string, nonce: string) =>
  page(
    title,
    `<p>${escapeHtml(words)}</p><form method="post"><button>${escapeHtml(button)}</button></form>`,
    nonce,
  );

export const messagePage = (title: string, words: string, nonce: string) =>
  page(title, `<p role="status">${escapeHtml(words)}</p>`, nonce);

const wrongOf = (name: string, wrong: string | undefined) =>
  wrong === undefined ? '' : `<br><span class="wrong" id="${name}-wrong">${escapeHtml(wrong)}</span>`;

const page = (title: string, body: string, nonce: string) =>
  `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>${escapeHtml(title)}</title><style nonce="${nonce}">${style}</style></head>
<body><main><h1>${escapeHtml(title)}</h1>${body}</main></body></html>`;
