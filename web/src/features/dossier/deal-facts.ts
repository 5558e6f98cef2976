import { tableParts } from '../../kit/table';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  untracked,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { RouterLink } from '@angular/router';
import type { Deal } from '@kettle/contract';
import { dealPlain } from '@kettle/contract/base/catalogues';
import { isBriefDone } from '@kettle/core/deals';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { CountPipe, DayPipe, MoneyPipe } from '../../kit/say.pipes';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { DealDialogs, DealProgress, DealWords } from '../deals/index';
import { Keys } from '../../services/keys';
import { PeopleWords, plainFacts } from '../fields/index';
import { WordPipe } from '../../kit/value-words';
import { tellLater } from '../../kit/tell-later';

const percent = (share: number) => `${Math.round(share * 100)} %`;

/** What is known of a deal: its brief to tick, people and roles, product lines, facts, and whether to let go. */
@Component({
  selector: 'kettle-deal-facts',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    DealProgress,
    WordPipe,
    tableParts,
    CountPipe,
    DayPipe,
    MatCheckboxModule,
    MatButtonModule,
    RouterLink,
    MoneyPipe,
  ],
  template: `
    <kettle-deal-progress [deal]="deal()" />
    @if (deal().prompts.length > 0 && deal().status === 'open') {
      <fieldset class="brief">
        <legend>
          <b>{{ words.stage(deal().stageId)?.name }}</b>
          <span i18n class="soft">brief</span>
        </legend>
        @for (prompt of deal().prompts; track prompt.id) {
          <mat-checkbox [checked]="prompt.isTicked" (change)="tick(prompt.id, !prompt.isTicked)">
            {{ prompt.text }}
            @if (prompt.isRequired && !prompt.isTicked) {
              <span i18n class="now">before it goes on</span>
            }
          </mat-checkbox>
        }
      </fieldset>
    }
    @if (goesOn(); as next) {
      <p class="on">
        <button matButton="outlined" type="button" (click)="goOn()">
          <ng-container i18n>The brief is done: on to {{ next.name }}</ng-container>
          <kbd>H</kbd>
        </button>
      </p>
    } @else if (isLast()) {
      <p class="on">
        <button matButton="outlined" type="button" (click)="goOn()">
          <ng-container i18n>The brief is done: win it</ng-container>
          <kbd>H</kbd>
        </button>
      </p>
    }
    @if (deal().lines.length > 0) {
      <kettle-table [rows]="deal().lines" label="Product lines" i18n-label isHeadless>
        <ng-template [kettleColumn]="deal().lines" head="what" i18n-head let-line>
          {{ line.quantity }} × {{ line.name }}
          @if (line.discountPercent > 0) {
            <span i18n class="soft">less {{ line.discountPercent }} %</span>
          }
        </ng-template>
        <ng-template [kettleColumn]="deal().lines" head="sum" i18n-head isNumber let-line>
          {{ line.totalMinor | money: deal().currency }}
        </ng-template>
        <ng-template [kettleColumn]="deal().lines" head="paid" i18n-head let-line>
          <span class="soft">{{ line.billing }}</span>
        </ng-template>
      </kettle-table>
    }
    <dl>
      @for (person of deal().people; track $index) {
        <dt>{{ person.role | word }}</dt>
        <dd>
          <a [routerLink]="['/people', person.contactId]">{{ person.name }}</a>
        </dd>
      }
      @for (fact of facts(); track fact.name) {
        <dt>{{ fact.name }}</dt>
        <dd>{{ fact.words }}</dd>
      }
      @if (deal().parent; as parent) {
        <dt i18n>part of</dt>
        <dd>
          <a [routerLink]="['/deals', parent.id]">{{ parent.name }}</a>
        </dd>
      }
      @for (child of deal().children; track child.id) {
        <dt i18n>holds</dt>
        <dd>
          <a [routerLink]="['/deals', child.id]">{{ child.name }}</a>
          <span class="soft">{{ child.status | word }}</span>
        </dd>
      }
      @for (each of deal().renews; track each.agreementId) {
        <dt i18n>renews</dt>
        <dd>
          <a [routerLink]="['/agreements', each.agreementId]">{{ each.name }}</a>
          <span i18n class="soft">until {{ each.endsOn | day: 'date' }}</span>
        </dd>
      }
      @if (deal().agreementId; as agreementId) {
        <dt i18n>made</dt>
        <dd><a i18n [routerLink]="['/agreements', agreementId]">its agreement</a></dd>
      }
      @if (deal().origin; as origin) {
        <dt i18n>handed on from</dt>
        <dd>
          <a [routerLink]="['/deals', origin.id]">{{ origin.name }}</a>
        </dd>
      }
      @for (next of deal().handedOn; track next.id) {
        <dt i18n>handed on to</dt>
        <dd>
          <a [routerLink]="['/deals', next.id]">{{ next.name }}</a>
          <span class="soft">{{ next.status | word }}</span>
        </dd>
      }
      @if (deal().leadId; as leadId) {
        <dt i18n>came from</dt>
        <dd>
          <a i18n [routerLink]="['/deals/leads', leadId]">its lead</a>
        </dd>
      }
    </dl>
    @if (letting(); as it) {
      <p class="small">
        <b>{{ it.advice }}</b>
        <span i18n class="soft">
          · {{ it.tries | count: texts.tries }} since the last conversation · open
          {{ it.openDays | count: texts.days
          }}{{ it.usualDays === null ? '' : texts.usuallyToWin(it.usualDays) }}
          @if (it.chance; as chance) {
            · chance that the next try is answered within 30 days: {{ percent(chance.rate) }} ({{
              percent(chance.low)
            }}
            to {{ percent(chance.high) }}, {{ chance.cases }} cases)
          }
        </span>
        @if (it.advice === 'consider letting go') {
          <button i18n matButton type="button" (click)="letGo.emit()">let it go</button>
        }
      </p>
    }
  `,
  styles: `
    dd a {
      text-decoration: underline;
    }
    .brief {
      display: grid;
      gap: 2px;
      padding-block-end: var(--space-3);
    }
    .brief legend {
      padding-block-end: 2px;
    }
    .on {
      padding-block: 0 var(--space-3);
    }
    kettle-table {
      margin-block-end: var(--space-3);
      font-size: var(--text-small);
    }
    dl {
      display: grid;
      grid-template-columns: 92px 1fr;
      gap: 4px var(--space-3);
    }
    dt {
      color: var(--text-soft);
    }
    p {
      padding-block-start: var(--space-3);
    }
  `,
})
export class DealFacts {
  protected readonly texts = {
    tries: $localize`try|tries`,
    days: $localize`day|days`,
    usuallyToWin: (usualDays: string | number) => $localize`, usually ${usualDays}:usualDays: to win`,
  };

  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  private readonly notices = inject(Notices);
  private readonly dialogs = inject(DealDialogs);
  protected readonly words = inject(DealWords);
  private readonly people = inject(PeopleWords);
  readonly deal = input.required<Deal>();
  /** The deal was changed here. */
  readonly done = output();
  private readonly tellDone = tellLater(this.done);
  readonly letGo = output();
  /** All that its stage's brief asks for is done. */
  private readonly isDone = computed(() => {
    const { prompts, briefTasksOpen, stageId, status } = this.deal();
    const tasks = this.words.stage(stageId)?.brief.tasks.length ?? 0;
    return status === 'open' && isBriefDone({ prompts, tasks, tasksOpen: briefTasksOpen });
  });
  private readonly next = computed(() => this.words.nextStage(this.deal().stageId));
  protected readonly goesOn = computed(() => (this.isDone() ? this.next() : null));
  /** Behind the last stage comes winning. */
  protected readonly isLast = computed(
    () => this.isDone() && this.next() === null && this.words.pipelineOf(this.deal().stageId) !== undefined,
  );
  protected readonly percent = percent;
  private readonly asked = reading((id: string) => this.api.call('lettingGo', { params: { id } }));
  protected readonly letting = computed(() => (this.deal().status === 'open' ? this.asked.value() : null));
  protected readonly facts = computed(() => {
    const deal = this.deal();
    const known: readonly { name: string; words: string }[] = [
      // The usual priority is not worth a line.
      ...plainFacts(dealPlain, deal, {
        today: this.user.today(),
        without: deal.priority === 'usual' ? ['priority'] : [],
      }),
      { name: 'against', words: deal.competitors.join(', ') },
      { name: 'team', words: deal.team.map(({ name }) => name).join(', ') },
      { name: $localize`lost to`, words: deal.lostTo ?? '' },
      { name: 'words', words: deal.closeWords },
      ...this.people.customFacts('deal', deal.custom),
    ];
    return known.filter(({ words }) => words !== '');
  });

  constructor() {
    this.words.wake();
    inject(Keys).bind({
      keys: 'h',
      words: $localize`Take the deal to the next stage, once its brief is done`,
      act: () => this.goOn(),
    });
    effect(() => {
      const { id, status } = this.deal();
      untracked(() => {
        if (status === 'open') this.asked.read(id);
      });
    });
  }

  protected goOn(): void {
    const next = this.goesOn();
    if (next !== null) this.dialogs.goOn(this.deal(), next);
    else if (this.isLast()) void this.dialogs.close(this.deal(), 'won');
  }

  protected tick(promptId: string, isTicked: boolean): void {
    const { id } = this.deal();
    this.api.call('tickPrompt', { params: { id }, body: { promptId, isTicked } }).subscribe({
      next: this.tellDone,
      error: (error: unknown) => {
        this.notices.problem(error);
        this.tellDone();
      },
    });
  }
}
