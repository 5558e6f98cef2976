import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { JournalEntry } from '@kettle/contract';
import { MomentPipe } from '../../design/say.pipes';

/** Entries of the journal, newest first: what, when, by whom, and what was said. */
@Component({
  selector: 'kettle-journal-lines',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIcon, MomentPipe],
  template: `
    <ol aria-label="Journal">
      @for (entry of entries(); track entry.id) {
        <li>
          <mat-icon [svgIcon]="entry.kind" aria-hidden="true" />
          <div>
            <p class="spread head">
              <b>{{ titleOf(entry) }}</b>
              @if (entry.minutes) {
                <span class="soft">{{ entry.minutes }} min</span>
              }
              <span class="grow"></span>
              <span class="soft when">
                {{ entry.at | moment }}
                @if (entry.userName) {
                  · {{ entry.userName }}
                }
              </span>
            </p>
            @if (bodyOf(entry); as body) {
              <p class="body">{{ body }}</p>
            }
            @if (entry.dealName && showDeal()) {
              <p class="soft">{{ entry.dealName }}</p>
            }
          </div>
        </li>
      }
    </ol>
  `,
  styles: `
    li {
      display: grid;
      grid-template-columns: 16px 1fr;
      gap: var(--space-2);
      padding-block: 8px;
      border-block-end: 1px solid var(--hairline);
    }
    mat-icon {
      color: var(--passive);
      margin-block-start: 2px;
    }
    .head {
      gap: 2px var(--space-2);
    }
    .when {
      font-size: var(--text-small);
    }
    .body {
      white-space: pre-wrap;
      overflow-wrap: anywhere;
    }
  `,
})
export class JournalLines {
  readonly entries = input.required<readonly JournalEntry[]>();
  readonly showDeal = input(false);

  protected titleOf(entry: JournalEntry): string {
    if (entry.kind === 'system') return entry.body;
    if (entry.kind === 'note') return 'Note';
    return entry.outcomeLabel ?? entry.kind;
  }

  protected bodyOf(entry: JournalEntry): string {
    return entry.kind === 'system' ? '' : entry.body;
  }
}
