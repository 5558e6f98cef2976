import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import type { HomeCard } from '@kettle/contract';
import { cardsOfTeams } from '@kettle/contract/home/kinds';
import { homeCardLabel } from '@kettle/contract/home/labels';
import { OrderHandle } from '../../kit/order-handle';
import { TeamDay } from '../round/index';
import { LanesCard, LeadsCard, RenewalsCard, StandingsCard } from './count-cards';
import { EffortCard } from './effort-card';
import { ForecastCard } from './forecast-card';
import { LogCard } from './log-card';
import { MonthCard } from './month-card';
import { StirringsCard } from './stirrings-card';
import { TodayCard } from './today-card';
import { ViewCard } from './view-card';

/** One card: its name and content; while the Home is arranged also its place, width, whose it is, and a way to take it off. */
@Component({
  selector: 'kettle-home-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ...[EffortCard, ForecastCard, LanesCard, LeadsCard, LogCard, MatButtonModule, MatIcon, MonthCard],
    ...[OrderHandle, RenewalsCard, StandingsCard, StirringsCard, TeamDay, TodayCard, ViewCard],
  ],
  template: `
    <section [attr.aria-label]="name()">
      <header>
        <h2>{{ name() }}</h2>
        @if (isArranging()) {
          <span class="grow"></span>
          <kettle-order-handle [name]="name()" [at]="at()" [of]="of()" (moved)="moved.emit($event)" />
          <button
            matIconButton
            type="button"
            (click)="removed.emit()"
            [attr.aria-label]="texts.remove(name())"
          >
            <mat-icon svgIcon="close" />
          </button>
        }
      </header>
      @if (isArranging()) {
        <div class="words" role="group" [attr.aria-label]="texts.shape(name())">
          @for (width of widths; track width) {
            <button
              matButton
              type="button"
              class="word"
              [attr.aria-pressed]="card().width === width"
              (click)="changed.emit({ width })"
            >
              {{ texts.width[width] }}
            </button>
          }
          @if (canBeTeams()) {
            <button
              i18n
              matButton
              type="button"
              class="word"
              [attr.aria-pressed]="card().whose === 'team'"
              (click)="changed.emit({ whose: card().whose === 'team' ? 'mine' : 'team' })"
            >
              the team’s
            </button>
          }
          @if (card().kind === 'view') {
            <button
              i18n
              matButton
              type="button"
              class="word"
              [attr.aria-pressed]="card().as === 'chart'"
              (click)="changed.emit({ as: card().as === 'chart' ? 'list' : 'chart' })"
            >
              as a chart
            </button>
          }
        </div>
      }
      <div class="content">
        @switch (card().kind) {
          @case ('today') {
            <kettle-today-card />
          }
          @case ('team') {
            <kettle-team-day isCard />
          }
          @case ('month') {
            <kettle-month-card [whose]="card().whose" />
          }
          @case ('forecast') {
            <kettle-forecast-card [whose]="card().whose" />
          }
          @case ('lanes') {
            <kettle-lanes-card [whose]="card().whose" />
          }
          @case ('standings') {
            <kettle-standings-card />
          }
          @case ('leads') {
            <kettle-leads-card [whose]="card().whose" />
          }
          @case ('renewals') {
            <kettle-renewals-card [whose]="card().whose" />
          }
          @case ('effort') {
            <kettle-effort-card />
          }
          @case ('stirrings') {
            <kettle-stirrings-card />
          }
          @case ('log') {
            <kettle-log-card [whose]="card().whose" />
          }
          @case ('view') {
            @if (card().viewId; as viewId) {
              <kettle-view-card [viewId]="viewId" [shape]="card().as" />
            }
          }
        }
      </div>
    </section>
  `,
  styleUrl: './home-card.scss',
})
export class HomeCardFrame {
  protected readonly texts = {
    remove: (name: string) => $localize`Take ${name}:name: off`,
    shape: (name: string) => $localize`How ${name}:name: is shown`,
    team: (name: string) => $localize`${name}:name:, the team’s`,
    width: { 1: $localize`narrow`, 2: $localize`wide`, 3: $localize`whole width` } as Readonly<
      Record<number, string>
    >,
  };

  readonly card = input.required<HomeCard>();
  readonly isArranging = input(false);
  readonly at = input.required<number>();
  readonly of = input.required<number>();
  readonly moved = output<number>();
  readonly removed = output();
  readonly changed = output<Partial<HomeCard>>();
  protected readonly widths = [1, 2, 3];
  protected readonly canBeTeams = computed(() =>
    (cardsOfTeams as readonly string[]).includes(this.card().kind),
  );
  protected readonly name = computed(() => {
    const { kind, whose } = this.card();
    const label = homeCardLabel[kind];
    return this.canBeTeams() && whose === 'team' && kind !== 'log' ? this.texts.team(label) : label;
  });
}
