import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import type { FailedJob } from '@kettle/contract';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { CountPipe, MomentPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { Notices } from '../../services/notices';

/** Background work that failed for good: what it was, who asked for it, and once more. */
@Component({
  selector: 'kettle-background-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CountPipe, Failed, MatButtonModule, MomentPipe, Waiting],
  template: `
    <section aria-labelledby="background">
      <h2 i18n id="background">Background work</h2>
      <p i18n class="soft">
        Imports, changes of many, mails and reminders are tried five times. What failed each time is listed
        here for 30 days.
      </p>
      @if (list.value(); as it) {
        @for (job of it.jobs; track job.id) {
          <div class="failed-job">
            <div>
              <strong>{{ job.words }}</strong>
              <span class="soft">
                {{ job.askedByName ? texts.for(job.askedByName) : texts.nobodyAskedForIt }}
                @if (job.at) {
                  · {{ job.at | moment }}
                }
                · {{ job.tries | count: texts.tries }}
              </span>
              @if (job.state === 'unclear') {
                <p i18n>
                  It broke off, and nobody can know whether it happened. Look before you do it again.
                </p>
              }
              @if (job.error) {
                <p class="soft error">{{ job.error }}</p>
              }
            </div>
            <button mat-stroked-button type="button" [disabled]="busy() === job.id" (click)="retry(job)">
              {{ job.state === 'unclear' ? texts.doItAgain : texts.tryAgain }}
            </button>
          </div>
        } @empty {
          <p i18n>Nothing has failed.</p>
        }
        @if (it.total > it.jobs.length) {
          <p i18n class="soft">The newest {{ it.jobs.length }} of {{ it.total }}.</p>
        }
      } @else if (list.state().kind !== 'failed') {
        <kettle-waiting />
      }
      @if (list.state(); as state) {
        @if (state.kind === 'failed') {
          <kettle-failed [problem]="state.problem" (again)="list.again()" />
        }
      }
    </section>
  `,
  styleUrl: './settings-part.scss',
  styles: `
    .failed-job {
      display: flex;
      gap: 16px;
      align-items: start;
      justify-content: space-between;
      padding-block: 12px;
      border-block-end: 1px solid var(--hairline);
    }
    .failed-job strong::first-letter {
      text-transform: uppercase;
    }
    .failed-job p {
      margin-block: 4px 0;
    }
    .error {
      overflow-wrap: anywhere;
    }
  `,
})
export class BackgroundSettings {
  protected readonly texts = {
    for: (askedByName: string | number) => $localize`for ${askedByName}:askedByName:`,
    nobodyAskedForIt: $localize`nobody asked for it`,
    tries: $localize`try|tries`,
    doItAgain: $localize`Do it again`,
    tryAgain: $localize`Try again`,
  };

  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  protected readonly list = reading((_: null) => this.api.call('failedJobs'));
  protected readonly busy = signal<string | null>(null);

  constructor() {
    this.list.read(null);
    inject(ChangeStream)
      .of('job')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.list.again());
  }

  protected retry(job: FailedJob): void {
    this.busy.set(job.id);
    this.api.call('retryJob', { params: { id: job.id } }).subscribe({
      next: () => {
        this.busy.set(null);
        this.notices.say($localize`It is tried again.`);
        this.list.again();
      },
      error: (error: unknown) => {
        this.busy.set(null);
        this.notices.problem(error);
        this.list.again();
      },
    });
  }
}
