import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { ChoiceField } from '../../kit/choice-field';
import { CurrentUser } from '../../services/current-user';
import { AccountsPart, MyAccountPart, SecurityPart } from '../accounts/index';
import { ApiKeysPart, HooksPart } from '../programs/index';
import { PersonalDataPart } from '../personal-data/index';
import { SetupSteps } from '../setup/index';
import { RulesPart } from '../rules/index';
import { AbsencesPart } from './absences-part';
import { BackgroundSettings } from './background-settings';
import { CustomFieldSettings } from './custom-field-settings';
import { JournalSettingsPart } from './journal-settings';
import { MailSettingsPart } from './mail-settings';
import { LeadSettingsPart } from './lead-settings';
import { OrganisationSettingsPart } from './organisation-settings';
import { RightsSettingsPart } from './rights-settings';
import { RoadSettingsPart } from './road-settings';
import { RoundSettingsPart } from './round-settings';
import { CalendarFeedPart, OutsideCalendarsPart } from '../calendar/index';
import { MySettings } from './my-settings';
import { PipelineSettings } from './pipeline-settings';
import { ProductSettings } from './product-settings';
import { SellingSettingsPart } from './selling-settings';
import { ToldSettingsPart } from './told-settings';
import { StandingSettings } from './standing-settings';

type Part =
  | 'me'
  | 'account'
  | 'calendars'
  | 'keys'
  | 'hooks'
  | 'rules'
  | 'told'
  | 'team'
  | 'security'
  | 'organisation'
  | 'rights'
  | 'personal-data'
  | 'round'
  | 'standings'
  | 'journal'
  | 'pipelines'
  | 'products'
  | 'leads'
  | 'selling'
  | 'fields'
  | 'mail'
  | 'background'
  | 'setup';

interface PartOfSettings {
  readonly name: Part;
  readonly words: string;
  readonly whom: 'everybody' | 'manager' | 'admin';
}
interface Group {
  readonly words: string;
  readonly parts: readonly PartOfSettings[];
}

const part = (whom: PartOfSettings['whom'], name: Part, words: string): PartOfSettings => ({
  whom,
  name,
  words,
});

const groups: readonly Group[] = [
  {
    words: $localize`Mine`,
    parts: [
      part('everybody', 'me', $localize`My hours, and away`),
      part('everybody', 'calendars', $localize`My calendars`),
      part('everybody', 'told', $localize`What I am told`),
      part('everybody', 'account', $localize`My account`),
      part('everybody', 'keys', $localize`My API keys`),
    ],
  },
  {
    words: $localize`People`,
    parts: [
      part('manager', 'team', $localize`People`),
      part('admin', 'rights', $localize`Rights`),
      part('admin', 'security', $localize`Security`),
      part('admin', 'personal-data', $localize`Personal data`),
    ],
  },
  {
    words: $localize`Selling`,
    parts: [
      part('admin', 'round', $localize`Round`),
      part('admin', 'standings', $localize`Standings`),
      part('manager', 'rules', $localize`House rules`),
      part('admin', 'journal', $localize`Outcomes and touches`),
      part('admin', 'pipelines', $localize`Pipelines`),
      part('admin', 'products', $localize`Products and reasons`),
      part('admin', 'selling', $localize`Quotes and invoices`),
      part('admin', 'leads', $localize`Leads and forms`),
      part('admin', 'fields', $localize`Custom fields`),
    ],
  },
  {
    words: $localize`Installation`,
    parts: [
      part('admin', 'setup', $localize`First steps`),
      part('admin', 'organisation', $localize`Organisation`),
      part('admin', 'mail', $localize`Mail`),
      part('admin', 'hooks', $localize`Web hooks`),
      part('admin', 'background', $localize`Background work`),
    ],
  },
];

/** Everything that is set: mine for everybody, the organisation's for an admin. */
@Component({
  selector: 'kettle-settings-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ChoiceField,
    RouterLink,
    BackgroundSettings,
    MySettings,
    CalendarFeedPart,
    OutsideCalendarsPart,
    ToldSettingsPart,
    AbsencesPart,
    AccountsPart,
    MyAccountPart,
    ApiKeysPart,
    HooksPart,
    RulesPart,
    SecurityPart,
    OrganisationSettingsPart,
    PersonalDataPart,
    SetupSteps,
    RightsSettingsPart,
    RoundSettingsPart,
    RoadSettingsPart,
    StandingSettings,
    JournalSettingsPart,
    CustomFieldSettings,
    MailSettingsPart,
    PipelineSettings,
    ProductSettings,
    SellingSettingsPart,
    LeadSettingsPart,
  ],
  template: `
    <div class="page">
      <h1 i18n>Settings</h1>
      <kettle-choice-field
        class="choice"
        label="Part"
        i18n-label
        [value]="shown()"
        (valueChange)="open($event)"
        [options]="options()"
      />
      <div class="both">
        <nav aria-label="Settings" i18n-aria-label>
          @for (group of groups(); track group.words) {
            <h2>{{ group.words }}</h2>
            @for (each of group.parts; track each.name) {
              <a
                routerLink="/settings"
                [queryParams]="{ part: each.name }"
                [attr.aria-current]="shown() === each.name ? 'page' : null"
              >
                {{ each.words }}
              </a>
            }
          }
        </nav>
        <div class="part">
          @switch (shown()) {
            @case ('me') {
              <kettle-my-settings />
              <kettle-absences-part />
            }
            @case ('calendars') {
              <kettle-outside-calendars />
              <kettle-calendar-feed />
            }
            @case ('told') {
              <kettle-told-settings />
            }
            @case ('team') {
              <kettle-accounts-part />
            }
            @case ('account') {
              <kettle-my-account />
            }
            @case ('keys') {
              <kettle-api-keys />
            }
            @case ('rules') {
              <kettle-rules />
            }
            @case ('hooks') {
              <kettle-hooks />
            }
            @case ('security') {
              <kettle-security-part />
            }
            @case ('setup') {
              <kettle-setup-steps [isAlways]="true" />
            }
            @case ('organisation') {
              <kettle-organisation-settings />
            }
            @case ('rights') {
              <kettle-rights-settings />
            }
            @case ('personal-data') {
              <kettle-personal-data-part />
            }
            @case ('round') {
              <kettle-round-settings />
              <kettle-road-settings />
            }
            @case ('standings') {
              <kettle-standing-settings />
            }
            @case ('journal') {
              <kettle-journal-settings />
            }
            @case ('pipelines') {
              <kettle-pipeline-settings />
            }
            @case ('products') {
              <kettle-product-settings />
            }
            @case ('selling') {
              <kettle-selling-settings />
            }
            @case ('leads') {
              <kettle-lead-settings />
            }
            @case ('mail') {
              <kettle-mail-settings />
            }
            @case ('background') {
              <kettle-background-settings />
            }
            @case ('fields') {
              <kettle-custom-field-settings />
            }
          }
        </div>
      </div>
    </div>
  `,
  styles: `
    h1 {
      padding-block-end: var(--space-4);
    }
    .both {
      display: grid;
      grid-template-columns: 180px minmax(0, 1fr);
      gap: var(--space-6);
      align-items: start;
    }
    nav {
      display: grid;
      position: sticky;
      inset-block-start: var(--space-4);
    }
    h2 {
      padding-block: var(--space-3) 2px;
      color: var(--text-soft);
      font-size: var(--text-small);
      font-weight: 500;
    }
    h2:first-child {
      padding-block-start: 0;
    }
    nav a {
      padding: 5px 10px;
      border-inline-start: 2px solid var(--hairline);
      color: var(--text-soft);
      text-decoration: none;
    }
    nav a:hover {
      color: var(--text);
    }
    nav a[aria-current] {
      border-inline-start-color: var(--accent);
      color: var(--text);
      font-weight: 600;
    }
    .choice {
      display: none;
    }
    @media (width < 900px) {
      .both {
        grid-template-columns: minmax(0, 1fr);
      }
      nav {
        display: none;
      }
      .choice {
        display: grid;
        padding-block-end: var(--space-4);
      }
    }
  `,
})
export class SettingsPage {
  private readonly user = inject(CurrentUser);
  private readonly router = inject(Router);
  readonly part = input<Part>();
  protected readonly groups = computed((): readonly Group[] =>
    groups
      .map(({ words, parts }) => ({ words, parts: parts.filter(({ whom }) => this.mayOpen(whom)) }))
      .filter(({ parts }) => parts.length > 0),
  );
  /** The same to choose from, where there is no room for all of them. */
  protected readonly options = computed(() =>
    this.groups().map(({ words, parts }) => ({
      group: words,
      options: parts.map((each) => ({ value: each.name, words: each.words })),
    })),
  );
  private readonly parts = computed(() => this.groups().flatMap(({ parts }) => parts));
  protected readonly shown = computed(() =>
    this.parts().some((each) => each.name === this.part()) ? (this.part() ?? 'me') : 'me',
  );

  protected open(part: Part | null): void {
    void this.router.navigate(['/settings'], { queryParams: { part } });
  }

  private mayOpen(whom: PartOfSettings['whom']): boolean {
    if (whom === 'everybody') return true;
    return whom === 'manager' ? this.user.isManager() : this.user.person()?.role === 'admin';
  }
}
