import { inject, Injectable } from '@angular/core';
import { CurrentUser } from './current-user';

const prefix = 'kettle.draft.';

/** Half-written text that survives a reload, kept on this machine for the person who wrote it. */
@Injectable({ providedIn: 'root' })
export class Drafts {
  private readonly user = inject(CurrentUser);

  read(key: string): string {
    return this.storage()?.getItem(this.nameOf(key)) ?? '';
  }

  keep(key: string, text: string): void {
    if (text === '') this.storage()?.removeItem(this.nameOf(key));
    else this.storage()?.setItem(this.nameOf(key), text);
  }

  /** A form that was kept whole; null when there is none, or it cannot be read any more. */
  readForm<Form>(key: string): Form | null {
    const text = this.read(key);
    try {
      return text === '' ? null : (JSON.parse(text) as Form);
    } catch {
      return null;
    }
  }

  /** Keeps a form whole; null forgets it. */
  keepForm(key: string, form: object | null): void {
    this.keep(key, form === null ? '' : JSON.stringify(form));
  }

  /** Forgets everything that anybody half wrote on this machine: whoever signs out may not be alone at it. */
  forgetAll(): void {
    const storage = this.storage();
    const kept = Object.keys(storage ?? {}).filter((name) => name.startsWith(prefix));
    for (const name of kept) storage?.removeItem(name);
  }

  private nameOf(key: string): string {
    return `${prefix}${this.user.person()?.id ?? 'nobody'}.${key}`;
  }

  /** Storage can be switched off in the browser; drafts are then kept for as long as the page is. */
  private storage(): Storage | null {
    try {
      return localStorage;
    } catch {
      return null;
    }
  }
}
