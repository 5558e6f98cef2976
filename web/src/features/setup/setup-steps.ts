import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import { RouterLink } from '@angular/router';
import type { Setup, SetupStep } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { ChangeStream } from '../../services/change-stream';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { wordOf } from '../../kit/value-words';

interface Words {
  readonly title: string;
  readonly why: string;
  readonly link: string;
  readonly part?: string;
}

const words: Readonly<Record<SetupStep, Words>> = {
  organisation: {
    title: $localize`Name, country, currency and time zone`,
    why: $localize`Letters name your firm; sums, telephone numbers and holidays go by the rest.`,
    link: '/settings',
    part: 'organisation',
  },
  hours: {
    title: $localize`Your working hours`,
    why: $localize`The Round fits the day that you have.`,
    link: '/settings',
    part: 'me',
  },
  people: {
    title: $localize`Your colleagues`,
    why: $localize`Each chooses a password of their own by an invitation.`,
    link: '/settings',
    part: 'team',
  },
  pipeline: {
    title: $localize`The stages of a deal`,
    why: $localize`One pipeline is there to begin with: call its stages what you call them.`,
    link: '/settings',
    part: 'pipelines',
  },
  contacts: {
    title: $localize`Your people, from a file`,
    why: $localize`A spreadsheet or address book; everything is shown before it is written.`,
    link: '/import',
  },
  mail: {
    title: $localize`Mail`,
    why: $localize`Its servers are named where the application is started: docs/operating.md says how.`,
    link: '/settings',
    part: 'mail',
  },
};

/** What a new installation is set up with, for its first admin: each step is done, skipped or left for later. */
@Component({
  selector: 'kettle-setup-steps',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIcon, RouterLink],
  template: `
    @if (isShown() && setup.value(); as it) {
      <section aria-labelledby="first-steps">
        <h2 i18n id="first-steps">First steps</h2>
        <p class="soft">
          {{ left() === 0 ? texts.everythingIsSetUp : texts.toGoNoneOf(left()) }}
        </p>
        <ol>
          @for (step of it.steps; track step.name) {
            <li [class.over]="step.isDone || step.isSkipped">
              <mat-icon [svgIcon]="step.isDone ? 'task' : 'other'" [attr.aria-label]="stateOf(step)" />
              <span>
                <a [routerLink]="words[step.name].link" [queryParams]="{ part: words[step.name].part }">
                  <b>{{ words[step.name].title }}</b>
                </a>
                <span class="soft">{{ words[step.name].why }}</span>
              </span>
              @if (!step.isDone) {
                <button matButton type="button" (click)="skip(it, step.name, !step.isSkipped)">
                  {{ step.isSkipped ? texts.notSkipped : texts.skip }}
                </button>
              }
            </li>
          }
        </ol>
        @if (!isAlways()) {
          <p i18n class="soft">They stay in Settings, under First steps.</p>
        }
      </section>
    }
  `,
  styles: `
    section {
      padding: var(--space-4);
      border: 1px solid var(--hairline);
      background: var(--sheet);
      margin-block-end: var(--space-4);
    }
    ol {
      margin-block: var(--space-2);
    }
    li {
      display: grid;
      grid-template-columns: 24px minmax(0, 1fr) auto;
      gap: var(--space-2);
      align-items: center;
      min-block-size: 44px;
      border-block-end: 1px solid var(--hairline);
    }
    li span .soft {
      display: block;
      margin: 0;
      padding: 0;
    }
    .over b {
      font-weight: 400;
      color: var(--text-soft);
    }
  `,
})
export class SetupSteps {
  protected readonly texts = {
    everythingIsSetUp: $localize`Everything is set up.`,
    toGoNoneOf: (left: string | number) => $localize`${left}:left: to go. None of them has to be done now.`,
    notSkipped: $localize`Not skipped`,
    skip: $localize`Skip`,
  };

  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  /** Also when nothing is left to do. */
  readonly isAlways = input(false);
  protected readonly words = words;
  protected readonly setup = reading((_: null) => this.api.call('setup'));
  protected readonly left = computed(
    () => this.setup.value()?.steps.filter(({ isDone, isSkipped }) => !isDone && !isSkipped).length ?? 0,
  );
  protected readonly isShown = computed(() => this.isAlways() || this.left() > 0);

  constructor() {
    this.setup.read(null);
    inject(ChangeStream)
      .of('setting', 'contact', 'pipeline')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.setup.again());
  }

  protected stateOf({ isDone, isSkipped }: Setup['steps'][number]): string {
    return isDone ? wordOf('done') : isSkipped ? wordOf('skipped') : $localize`to do`;
  }

  protected skip({ version, steps }: Setup, name: SetupStep, isSkipped: boolean): void {
    const skipped = steps
      .filter((step) => (step.name === name ? isSkipped : step.isSkipped))
      .map((step) => step.name);
    const changeId = v7();
    this.api.call('changeSetup', { body: { version, skipped } }, changeId).subscribe({
      next: (saved) => {
        this.setup.put(saved);
        const said = `${words[name].title}: ${isSkipped ? wordOf('skipped') : $localize`taken up again`}.`;
        this.undo.offer(said, changeId, () => this.setup.again());
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
