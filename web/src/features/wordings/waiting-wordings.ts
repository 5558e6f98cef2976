import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import type { Wording } from '@kettle/contract';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { MomentPipe } from '../../kit/say.pipes';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { openReview } from './open-review';

const isOfCadence = ({ act }: Wording) => act === 'createCadence' || act === 'saveCadence';

/** Changes of texts or cadences that wait for release, and one's own that were declined. Nothing is shown where there are none. */
@Component({
  selector: 'kettle-waiting-wordings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MomentPipe],
  template: `
    @if (shown().length > 0) {
      <section aria-label="Waits for release" i18n-aria-label>
        <h3 i18n>Waits for release</h3>
        <ul>
          @for (each of shown(); track each.id) {
            <li>
              @if (each.state === 'waiting') {
                <button matButton type="button" (click)="open(each)">{{ each.name }}</button>
                <span i18n class="soft">
                  {{ isNew(each) ? texts.new : texts.change }} by {{ each.authorName }},
                  {{ each.at | moment }}
                </span>
              } @else {
                <b>{{ each.name }}</b>
                <span i18n class="now">{{ each.decidedByName }} declined it: {{ each.said }}</span>
              }
            </li>
          }
        </ul>
      </section>
    }
  `,
  styles: `
    ul {
      list-style: none;
      padding: 0;
      margin: 0;
    }
    li {
      display: flex;
      flex-wrap: wrap;
      gap: 0 var(--space-2);
      padding: 5px 0;
      border-block-end: 1px solid var(--hairline);
    }
  `,
})
export class WaitingWordings {
  protected readonly texts = {
    new: $localize`new`,
    change: $localize`change`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly user = inject(CurrentUser);
  readonly of = input.required<'texts' | 'cadences'>();

  private readonly waiting = reading((_: null) =>
    this.api.call('listWordings', { query: { state: 'waiting' } }),
  );
  private readonly declined = reading((_: null) =>
    this.api.call('listWordings', { query: { state: 'declined' } }),
  );
  protected readonly shown = computed(() => {
    const mine = (this.declined.value()?.wordings ?? []).filter(
      ({ authorId, decidedAt }) => authorId === this.user.person()?.id && this.isLate(decidedAt),
    );
    return [...(this.waiting.value()?.wordings ?? []), ...mine].filter(
      (each) => isOfCadence(each) === (this.of() === 'cadences'),
    );
  });

  constructor() {
    const read = () => {
      this.waiting.read(null);
      this.declined.read(null);
    };
    read();
    inject(ChangeStream).of('template', 'cadence').pipe(takeUntilDestroyed()).subscribe(read);
  }

  protected isNew(wording: Wording): boolean {
    return wording.act.startsWith('create');
  }

  protected open(wording: Wording): void {
    openReview(this.dialog, wording).subscribe();
  }

  /** A refusal is shown for two weeks. */
  private isLate(at: string | null): boolean {
    return at !== null && Date.parse(this.user.now()) - Date.parse(at) < 14 * 86_400_000;
  }
}
