import type { WebForm } from '@kettle/contract';
import { escapeHtml } from '../../platform/http/html';

/** What a stranger typed, and what was wrong with it, by field. */
export interface FormState {
  readonly values: Readonly<Record<string, string>>;
  readonly wrong: Readonly<Record<string, string>>;
  readonly token: string;
}

/** What stands on the page of a form. */
export function formBody(form: WebForm, state: FormState): string {
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
  return `<form method="post" novalidate>
${whole === undefined ? '' : `<p class="wrong" role="alert">${escapeHtml(whole)}</p>`}
${field('name', $localize`Your name`, 'text', ' required maxlength="160" autocomplete="name"')}
${field('email', $localize`E-mail`, 'email', ' required maxlength="254" autocomplete="email"')}
${form.asksPhone ? field('phone', $localize`Telephone (if you like)`, 'tel', ' maxlength="40" autocomplete="tel"') : ''}
${form.asksCompany ? field('company', $localize`Company (if any)`, 'text', ' maxlength="160" autocomplete="organization"') : ''}
${form.asksPostcode ? field('postcode', $localize`Postcode`, 'text', ' maxlength="20" autocomplete="postal-code"') : ''}
${field('message', $localize`What is it about?`, 'textarea', ' required maxlength="4000"')}
<div class="besides" aria-hidden="true"><label>${$localize`Leave this empty`}<input name="homepage" tabindex="-1" autocomplete="off"></label></div>
<input type="hidden" name="token" value="${escapeHtml(state.token)}">
<label class="tick"><input name="consent" type="checkbox" value="yes"${ticked}><span>${escapeHtml(form.consentWords)}${wrongOf('consent', state.wrong.consent)}</span></label>
<button>${$localize`Send`}</button>
</form>`;
}

const wrongOf = (name: string, wrong: string | undefined) =>
  wrong === undefined ? '' : `<br><span class="wrong" id="${name}-wrong">${escapeHtml(wrong)}</span>`;
