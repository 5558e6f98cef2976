import { PhonePipe } from '../../kit/phone.pipe';
import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { RouterLink } from '@angular/router';
import type { CallOf, EndpointName, Lead, LeadRow } from '@kettle/contract';
import { leadPlain } from '@kettle/contract/base/catalogues';
import { leadStatusLabel } from '@kettle/contract/labels';
import { Api } from '../../api/api';
import { DayPipe, MomentPipe } from '../../kit/say.pipes';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { PeopleWords, plainFacts } from '../fields/index';
import { v7 } from 'uuid';
import { WordPipe } from '../../kit/value-words';
import { tellLater } from '../../kit/tell-later';

/** One lead: what they want, where it came from, and everything that can be done with it. */
@Component({
  selector: 'kettle-lead-facts',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [WordPipe, PhonePipe, MatButtonModule, RouterLink, DayPipe, MomentPipe],
  template: `
    <p class="small">
      <b>{{ labels[lead().status] }}</b>
      <span i18n class="soft">
        since {{ lead().statusSince | moment }}
        @if (lead().warmth) {
          · {{ lead().warmth }}
        }
        · {{ lead().ownerName ?? texts.nobodyS }}
      </span>
      @if (lead().archivedAt) {
        <span i18n class="soft">· archived</span>
      }
    </p>
    @if (lead().status === 'set-aside') {
      <p class="small">
        {{ lead().asideReason }}
        @if (lead().wakeOn; as on) {
          <span i18n class="soft">back {{ on | day }}</span>
        }
      </p>
    }
    @if (lead().about && lead().about !== lead().subject) {
      <p class="about">{{ lead().about }}</p>
    }
    <dl>
      @if (lead().companyName) {
        <dt i18n>company</dt>
        <dd>
          {{ lead().companyName }}
          @if (lead().companyId === null) {
            <span i18n class="soft">as they said it</span>
          }
        </dd>
      }
      @if (lead().email) {
        <dt i18n>e-mail</dt>
        <dd>{{ lead().email }}</dd>
      }
      @if (lead().phone) {
        <dt i18n>phone</dt>
        <dd>{{ lead().phone! | phone }}</dd>
      }
      @for (fact of plain(); track fact.name) {
        <dt>{{ fact.name }}</dt>
        <dd>{{ fact.words }}</dd>
      }
      @for (fact of people.customFacts('lead', lead().custom); track fact.name) {
        <dt>{{ fact.name }}</dt>
        <dd>{{ fact.words }}</dd>
      }
      @if (lead().tags.length > 0) {
        <dt i18n>tags</dt>
        <dd>{{ lead().tags.join(', ') }}</dd>
      }
      @if (lead().link; as link) {
        <dt i18n>discussion</dt>
        <dd>
          <a [href]="link" target="_blank" rel="noopener noreferrer">{{ link }}</a>
        </dd>
      }
      @if (lead().consent; as consent) {
        <dt i18n>consent</dt>
        <dd>
          “{{ consent.words }}”
          <span i18n class="soft">{{ consent.at | moment }}, form {{ lead().formName }}</span>
          @if (consent.confirmedAt) {
            <span i18n class="soft">confirmed by mail {{ consent.confirmedAt | moment }}</span>
          } @else if (consent.mustBeConfirmed) {
            <span i18n class="now">not confirmed by mail yet: nothing goes to them by itself</span>
          }
        </dd>
      }
      @if (lead().deal; as deal) {
        <dt i18n>deal</dt>
        <dd>
          <a [routerLink]="['/deals', deal.id]">{{ deal.name }}</a>
          <span class="soft">{{ deal.status | word }}</span>
        </dd>
      }
    </dl>
    <div class="acts">
      @if (lead().ownerId === null) {
        <button i18n matButton="filled" type="button" (click)="claim()">Take it</button>
      }
      @if (user.mayChange(lead().ownerId)) {
        @if (isLive()) {
          <a
            i18n
            matButton="outlined"
            [class.main]="lead().ownerId !== null"
            [routerLink]="['/deals/leads', lead().id, 'qualify']"
          >
            Qualify
          </a>
          <button i18n matButton="outlined" type="button" (click)="change()">Change</button>
          <button i18n matButton="outlined" type="button" (click)="setAside()">Set aside</button>
        }
        @if (lead().status === 'set-aside') {
          <button i18n matButton="outlined" type="button" (click)="revive()">Take it up again</button>
        }
        @if (lead().canUnqualify) {
          <button i18n matButton="outlined" type="button" (click)="unqualify()">Undo qualifying</button>
        }
        @if (!isLive()) {
          <button matButton="outlined" type="button" (click)="archive(lead().archivedAt === null)">
            {{ lead().archivedAt ? texts.outOfTheArchive : texts.archive }}
          </button>
        }
      }
    </div>
  `,
  styles: `
    .about {
      padding-block: var(--space-2);
      white-space: pre-line;
      overflow-wrap: anywhere;
    }
    dl {
      display: grid;
      grid-template-columns: 92px 1fr;
      gap: 4px var(--space-3);
      padding-block: var(--space-2);
    }
    dt {
      color: var(--text-soft);
    }
    dd {
      overflow-wrap: anywhere;
    }
    .acts {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
    }
  `,
})
export class LeadFacts {
  protected readonly texts = {
    nobodyS: $localize`nobody’s`,
    outOfTheArchive: $localize`Out of the archive`,
    archive: $localize`Archive`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  protected readonly user = inject(CurrentUser);
  protected readonly people = inject(PeopleWords);
  protected readonly labels = leadStatusLabel;
  readonly lead = input.required<Lead>();
  readonly done = output();
  private readonly tellDone = tellLater(this.done);

  /** Without what has a place of its own here. */
  protected readonly plain = computed(() =>
    plainFacts(leadPlain, this.lead(), {
      today: this.user.today(),
      without: ['subject', 'about', 'warmth', 'link'],
    }),
  );

  protected isLive(): boolean {
    return ['untried', 'trying', 'in-talks'].includes(this.lead().status);
  }

  protected claim(): void {
    this.carryOut('claimLead', { params: { id: this.lead().id } }, $localize`It is yours now.`);
  }

  protected async change(): Promise<void> {
    const { LeadDialog } = await import('./lead-dialog');
    this.dialog
      .open(LeadDialog, { data: { lead: this.lead() }, width: '600px' })
      .afterClosed()
      .subscribe(this.tellDone);
  }

  protected async setAside(): Promise<void> {
    const { AsideDialog } = await import('./aside-dialog');
    const changeId = v7();
    this.dialog
      .open(AsideDialog, { data: { lead: this.lead(), changeId }, width: '440px' })
      .afterClosed()
      .subscribe((aside: LeadRow | undefined) => {
        this.tellDone();
        if (aside) this.undo.offer($localize`${aside.contactName} is set aside.`, changeId, this.tellDone);
      });
  }

  protected revive(): void {
    const { id } = this.lead();
    const body = { status: 'trying' } as const;
    this.carryOut('reviveLead', { params: { id }, body }, $localize`Taken up again.`);
  }

  protected archive(isArchived: boolean): void {
    const { id, version } = this.lead();
    const words = isArchived ? $localize`In the archive.` : $localize`Out of the archive.`;
    this.carryOut('archiveRecord', { body: { kind: 'lead', id, version, isArchived } }, words);
  }

  protected unqualify(): void {
    const { id } = this.lead();
    this.carryOut('unqualifyLead', { params: { id } }, $localize`Qualifying is undone; the deal is removed.`);
  }

  private carryOut<Name extends EndpointName>(name: Name, call: CallOf<Name>, words: string): void {
    const changeId = v7();
    this.api.call(name, call, changeId).subscribe({
      next: () => {
        this.undo.offer(words, changeId, this.tellDone);
        this.tellDone();
      },
      error: (error: unknown) => {
        this.notices.problem(error);
        this.tellDone();
      },
    });
  }
}
