import {
  ChangeDetectionStrategy,
  Component,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { CadenceDefinition, CadenceId, SnippetId, TemplateId, Wording } from '@kettle/contract';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { MomentPipe } from '../../kit/say.pipes';
import { Failed } from '../../kit/states';
import { sayDefinition } from './compare';

/** Whose wordings are listed. */
export type WordingOwner =
  { readonly templateId: TemplateId } | { readonly snippetId: SnippetId } | { readonly cadenceId: CadenceId };

/** Every wording that a text or cadence had, with who wrote and who released it; an earlier one can be taken into the form. */
@Component({
  selector: 'kettle-wording-history',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, Failed, MomentPipe],
  template: `
    <details (toggle)="isOpen.set(details.open)" #details>
      <summary i18n>Earlier wordings</summary>
      @for (each of list.value()?.wordings ?? []; track each.id; let first = $first) {
        @if (each.state === 'released') {
          <article>
            <p class="soft">
              {{ each.decidedAt! | moment }}, {{ each.authorName }}
              @if (each.decidedByName !== each.authorName) {
                <ng-container i18n>, released by {{ each.decidedByName }}</ng-container>
              }
              @if (first) {
                &ngsp;
                <ng-container i18n>· in use</ng-container>
              } @else {
                <button i18n matButton type="button" (click)="take.emit(each)">take it into the form</button>
              }
            </p>
            <p class="text">{{ textOf(each) }}</p>
          </article>
        }
      } @empty {
        @if (list.value()) {
          <p i18n class="soft">None is on record before today’s.</p>
        }
      }
      @if (list.state(); as state) {
        @if (state.kind === 'failed') {
          <kettle-failed [problem]="state.problem" (again)="list.again()" />
        }
      }
    </details>
  `,
  styles: `
    article {
      border-block-start: 1px solid var(--hairline);
      padding-block: var(--space-2);
    }
    p {
      margin: 0;
    }
    .text {
      white-space: pre-wrap;
      overflow-wrap: anywhere;
      max-block-size: 9em;
      overflow: auto;
    }
    summary {
      cursor: pointer;
    }
  `,
})
export class WordingHistory {
  private readonly api = inject(Api);
  readonly of = input.required<WordingOwner>();
  /** Names of the templates that steps of a cadence send. */
  readonly nameOf = input<(templateId: string) => string>(() => '');
  /** It is read again when there is another. */
  readonly version = input.required<number>();
  readonly take = output<Wording>();
  protected readonly isOpen = signal(false);
  protected readonly list = reading((of: WordingOwner) =>
    this.api.call('listWordings', { query: { ...of, state: 'released' } }),
  );

  constructor() {
    effect(() => {
      this.version();
      const of = this.of();
      if (this.isOpen()) untracked(() => this.list.read(of));
    });
  }

  protected textOf({ asked }: Wording): string {
    return 'definition' in asked
      ? sayDefinition(asked['definition'] as CadenceDefinition, this.nameOf())
      : String(asked['body'] ?? '');
  }
}
