import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import type { DropOffSteps } from '@kettle/contract';
import { sayPercent } from '@kettle/core/locale';
import { addDays } from '@kettle/core/time';
import { debounceTime } from 'rxjs';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { ChartView } from '../../kit/chart';
import { DayField } from '../../kit/day-field';
import { Empty, Failed, Waiting } from '../../kit/states';
import { tableParts } from '../../kit/table';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';

const usualDays = 90;
const settleMillis = 2_000;

/** How far leads of a period came, whole and by source, and why they were set aside. */
@Component({
  selector: 'kettle-drop-off-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChartView, DayField, Empty, Failed, RouterLink, tableParts, Waiting],
  template: `
    <div class="narrow">
      <kettle-day-field
        label="Began from"
        i18n-label
        [value]="from()"
        [max]="to()"
        (valueChange)="$event && from.set($event)"
      />
      <kettle-day-field
        label="to"
        i18n-label
        [value]="to()"
        [min]="from()"
        (valueChange)="$event && to.set($event)"
      />
    </div>
    @if (read.value(); as it) {
      @if (it.total.began === 0) {
        <kettle-empty title="No lead began then" i18n-title>
          <ng-container i18n>Choose other days, or everyone’s leads.</ng-container>
        </kettle-empty>
      } @else {
        <kettle-chart
          kind="bars"
          label="How far leads came"
          i18n-label
          labelHead="step"
          i18n-labelHead
          [height]="180"
          [labels]="steps.names"
          [series]="series()"
          [say]="say"
        />
        <h2 i18n>By source</h2>
        <kettle-table [rows]="it.sources" label="By source" i18n-label>
          <ng-template [kettleColumn]="it.sources" head="source" i18n-head let-each>
            @if (each.source; as source) {
              <a routerLink="/deals/leads" [queryParams]="{ source, owner: ownerInAddress() }">
                {{ source }}
              </a>
            } @else {
              <span i18n class="soft">not known</span>
            }
          </ng-template>
          @for (step of steps.of; track step.head; let at = $index) {
            <ng-template [kettleColumn]="it.sources" [head]="step.head" isNumber let-each>
              {{ each[step.key] }}
              @if (at > 0) {
                <small class="soft">{{ share(each[step.key], each.began) }}</small>
              }
            </ng-template>
          }
          <ng-template [kettleColumn]="it.sources" head="set aside" i18n-head isNumber let-each>
            {{ each.aside }}
          </ng-template>
        </kettle-table>
        @if (it.reasons.length > 0) {
          <h2 i18n>Set aside, and why</h2>
          <kettle-table [rows]="it.reasons" label="Set aside, and why" i18n-label>
            <ng-template [kettleColumn]="it.reasons" head="reason" i18n-head let-each>
              {{ each.reason ?? '—' }}
            </ng-template>
            <ng-template [kettleColumn]="it.reasons" head="leads" i18n-head isNumber let-each>
              {{ each.count }}
            </ng-template>
            <ng-template [kettleColumn]="it.reasons" head="never tried" i18n-head isNumber let-each>
              {{ each.count - each.tried }}
            </ng-template>
            <ng-template [kettleColumn]="it.reasons" head="after a conversation" i18n-head isNumber let-each>
              {{ each.talked }}
            </ng-template>
          </kettle-table>
        }
        <p i18n class="soft">
          Leads that began in these days, archived ones too. Tried: somebody tried to reach the person since.
          Spoken with: both sides spoke since. Shares are of those that began.
        </p>
      }
    } @else if (read.state(); as state) {
      @if (state.kind === 'failed') {
        <kettle-failed [problem]="state.problem" (again)="read.again()" />
      } @else {
        <kettle-waiting />
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      align-content: start;
      gap: var(--space-3);
      max-inline-size: 900px;
      overflow-y: auto;
      padding-block-end: var(--space-5);
    }
    small {
      display: inline-block;
      min-inline-size: 5ch;
    }
  `,
})
export class DropOffPanel {
  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  readonly owner = input.required<'mine' | 'all'>();
  protected readonly to = linkedSignal(() => this.user.today());
  protected readonly from = linkedSignal(() => addDays(this.user.today(), -usualDays));
  private readonly all: readonly { readonly key: keyof DropOffSteps; readonly head: string }[] = [
    { key: 'began', head: $localize`began` },
    { key: 'tried', head: $localize`tried` },
    { key: 'talked', head: $localize`spoken with` },
    { key: 'qualified', head: $localize`qualified` },
  ];
  protected readonly steps = { of: this.all, names: this.all.map(({ head }) => head) };
  protected readonly read = reading((query: { from: string; to: string; owner: 'mine' | 'all' }) =>
    this.api.call('leadDropOff', { query }),
  );
  protected readonly series = computed(() => {
    const total = this.read.value()?.total;
    return [
      {
        name: $localize`leads`,
        values: this.all.map(({ key }) => total?.[key] ?? 0),
      },
    ];
  });
  /** As the list's address says whose it shows. */
  protected readonly ownerInAddress = computed(() => (this.owner() === 'mine' ? null : 'all'));
  protected readonly say = (count: number) => String(count);
  protected readonly share = (part: number, of: number) => sayPercent(part / of);

  constructor() {
    effect(() => {
      const query = { from: this.from(), to: this.to(), owner: this.owner() };
      untracked(() => this.read.read(query));
    });
    inject(ChangeStream)
      .of('lead', 'journal')
      .pipe(debounceTime(settleMillis), takeUntilDestroyed())
      .subscribe(() => this.read.again());
  }
}
