import { ChangeDetectionStrategy, Component } from '@angular/core';
import { RouterLink, RouterLinkActive } from '@angular/router';

/** The lists of the place People, as words. */
@Component({
  selector: 'kettle-people-tabs',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink, RouterLinkActive],
  template: `
    <h1 i18n class="visually-hidden">People</h1>
    <nav class="words" aria-label="Lists of people" i18n-aria-label>
      @for (tab of tabs; track tab.path) {
        <a
          [routerLink]="tab.path"
          routerLinkActive
          ariaCurrentWhenActive="page"
          [routerLinkActiveOptions]="{
            paths: 'exact',
            queryParams: 'ignored',
            fragment: 'ignored',
            matrixParams: 'ignored',
          }"
        >
          {{ tab.name }}
        </a>
      }
    </nav>
  `,
  styles: `
    :host {
      flex: none;
    }
    nav {
      flex-wrap: nowrap;
      font-size: var(--text-lead);
    }
    a:hover {
      text-decoration: none;
    }
  `,
})
export class PeopleTabs {
  protected readonly tabs = [
    { path: '/people', name: $localize`People` },
    { path: '/people/companies', name: $localize`Companies` },
    { path: '/people/duplicates', name: $localize`Duplicates` },
  ];
}
