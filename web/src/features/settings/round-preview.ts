import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { RoundPreview, RoundSettingsBody, UserId } from '@kettle/contract';
import { sayCount } from '@kettle/core/locale';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { ChoiceField } from '../../kit/choice-field';
import { Failed } from '../../kit/states';
import { CurrentUser } from '../../services/current-user';
import { PeopleWords } from '../fields/index';

/** Somebody's order of today as settings that are not saved yet would make it, with where each row stands now. */
@Component({
  selector: 'kettle-round-preview',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, ChoiceField, Failed],
  template: `
    <h3 i18n>Today’s order</h3>
    <p i18n class="soft">What these would change at once. Looking saves nothing.</p>
    <div class="ask">
      <kettle-choice-field label="Whose day" i18n-label [options]="people()" [(value)]="owner" />
      <button i18n matButton="outlined" type="button" (click)="show()">Show today’s order with these</button>
    </div>
    @if (isWrong()) {
      <p i18n class="now" role="alert">Put the marked fields above right first.</p>
    } @else if (order.state(); as state) {
      @switch (state.kind) {
        @case ('loading') {
          <p i18n class="soft" role="status">reckoning …</p>
        }
        @case ('failed') {
          <kettle-failed [problem]="state.problem" (again)="order.again()" />
        }
        @case ('ready') {
          <p role="status">{{ movedOf(state.value) }}</p>
          @if (state.value.rows.length > 0) {
            <ol aria-label="Today’s order with these" i18n-aria-label>
              @for (row of state.value.rows; track row.key) {
                <li [class.below]="!row.isAbove">
                  <b class="num">{{ row.becomes }}</b>
                  <span>
                    {{ row.contactName }}
                    <span class="soft">· {{ row.purpose }}</span>
                  </span>
                  <span class="soft">{{ wasOf(row) }}</span>
                </li>
              }
            </ol>
          }
        }
      }
    }
  `,
  styles: `
    :host,
    ol {
      display: grid;
      gap: var(--space-2);
      justify-items: start;
      inline-size: 100%;
    }
    ol {
      gap: 0;
      padding: 0;
    }
    .ask {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
      align-items: end;
    }
    li {
      display: grid;
      grid-template-columns: 3ch minmax(0, 1fr) auto;
      gap: var(--space-2);
      inline-size: 100%;
      padding-block: 5px;
      border-block-end: 1px solid var(--hairline);
    }
    .below {
      color: var(--text-soft);
    }
  `,
})
export class RoundPreviewPart {
  private readonly api = inject(Api);
  private readonly words = inject(PeopleWords);
  /** The settings to try; null while something in them is wrong. */
  readonly settings = input.required<() => RoundSettingsBody | null>();
  protected readonly owner = signal<UserId | null>(inject(CurrentUser).person()?.id ?? null);
  /** Whether something in the settings kept them from being tried. */
  protected readonly isWrong = signal(false);
  protected readonly people = computed(() =>
    this.words.colleagues().map(({ id, name }) => ({ value: id, words: name })),
  );
  protected readonly order = reading((asked: { body: RoundSettingsBody; owner: UserId | undefined }) =>
    this.api.call('previewRound', { body: asked.body, query: { owner: asked.owner } }),
  );

  constructor() {
    this.words.wake();
  }

  protected show(): void {
    const body = this.settings()();
    this.isWrong.set(body === null);
    if (body !== null) this.order.read({ body, owner: this.owner() ?? undefined });
  }

  protected movedOf({ moved, total }: RoundPreview): string {
    if (total === 0) return $localize`Nothing waits on this day: there is no order to change.`;
    return moved === 0
      ? $localize`Today’s order stays as it is.`
      : $localize`${moved}:moved: of ${sayCount(total, $localize`row|rows`)}:total: would stand elsewhere.`;
  }

  protected wasOf({ was, becomes, wasAbove, isAbove }: RoundPreview['rows'][number]): string {
    const place = was === becomes ? $localize`as now` : $localize`now ${was}:place:`;
    if (wasAbove === isAbove) return place;
    return isAbove ? $localize`${place}:place:, below the line` : $localize`${place}:place:, above the line`;
  }
}
