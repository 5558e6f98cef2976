import { Injectable } from '@angular/core';

export type ThemeName = 'system' | 'light' | 'dark';
const key = 'kettle.theme';

/** Light, dark, or as the machine has it; kept on this machine. */
@Injectable({ providedIn: 'root' })
export class Theme {
  constructor() {
    this.choose((localStorage.getItem(key) as ThemeName | null) ?? 'system');
  }

  choose(name: ThemeName): void {
    document.documentElement.dataset['theme'] = name;
    localStorage.setItem(key, name);
  }
}
