import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { CurrentUser } from '../../services/current-user';
import { SelectedRecord } from '../../services/selected-record';
import { AccountsPart, MyAccountPart, SecurityPart } from '../accounts/index';
import { PersonalDataPart } from '../personal-data/index';
import { BackgroundSettings } from './background-settings';
import { CustomFieldSettings } from './custom-field-settings';
import { JournalSettingsPart } from './journal-settings';
import { MailSettingsPart } from './mail-settings';
import { LeadSettingsPart } from './lead-settings';
import { OrganisationSettingsPart } from './organisation-settings';
import { RightsSettingsPart } from './rights-settings';
import { RoundSettingsPart } from './round-settings';
import { MySettings } from './my-settings';
import { PipelineSettings } from './pipeline-settings';
import { ProductSettings } from './product-settings';
import { StandingSettings } from './standing-settings';

type Part =
  | 'me'
  | 'account'
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
  | 'fields'
  | 'mail'
  | 'background';

/** Everything that is set: mine for everybody, the organisation's for an admin. */
@Component({
  selector: 'kettle-settings-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    MatButtonModule,
    BackgroundSettings,
    MySettings,
    AccountsPart,
    MyAccountPart,
    SecurityPart,
    OrganisationSettingsPart,
    PersonalDataPart,
    RightsSettingsPart,
    RoundSettingsPart,
    StandingSettings,
    JournalSettingsPart,
    CustomFieldSettings,
    MailSettingsPart,
    PipelineSettings,
    ProductSettings,
    LeadSettingsPart,
  ],
  template: `
    <div class="page">
      <div class="page-head">
        <h1>Settings</h1>
        <div class="words" role="tablist">
          @for (each of parts(); track each.name) {
            <button
              matButton
              type="button"
              role="tab"
              [attr.aria-selected]="shown() === each.name"
              (click)="selected.setQuery({ part: each.name })"
              class="word"
            >
              {{ each.words }}
            </button>
          }
        </div>
      </div>
      @switch (shown()) {
        @case ('me') {
          <kettle-my-settings />
        }
        @case ('team') {
          <kettle-accounts-part />
        }
        @case ('account') {
          <kettle-my-account />
        }
        @case ('security') {
          <kettle-security-part />
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
  `,
})
export class SettingsPage {
  private readonly user = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);
  readonly part = input<Part>();
  protected readonly parts = computed((): { name: Part; words: string }[] => [
    { name: 'me', words: 'My hours' },
    { name: 'account', words: 'My account' },
    ...(this.user.isManager() ? ([{ name: 'team', words: 'People' }] as const) : []),
    ...(this.user.person()?.role === 'admin'
      ? ([
          { name: 'organisation', words: 'Organisation' },
          { name: 'rights', words: 'Rights' },
          { name: 'security', words: 'Security' },
          { name: 'personal-data', words: 'Personal data' },
          { name: 'round', words: 'Round' },
          { name: 'standings', words: 'Standings' },
          { name: 'journal', words: 'Outcomes and touches' },
          { name: 'pipelines', words: 'Pipelines' },
          { name: 'leads', words: 'Leads and forms' },
          { name: 'products', words: 'Products and reasons' },
          { name: 'fields', words: 'Custom fields' },
          { name: 'mail', words: 'Mail' },
          { name: 'background', words: 'Background work' },
        ] as const)
      : []),
  ]);
  protected readonly shown = computed(() =>
    this.parts().some((each) => each.name === this.part()) ? (this.part() ?? 'me') : 'me',
  );
}
