import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import type { ChangeSet, ImportSummary } from '@kettle/contract';
import { importKindForms } from '@kettle/contract/imports/kinds';
import { sayCount } from '@kettle/core/locale';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { MomentPipe } from '../../kit/say.pipes';
import { Empty, Failed, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';

/** What the person changed in the last 30 days and the files they imported, each with its undo. */
@Component({
  selector: 'kettle-changes-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Empty, Failed, Waiting, MomentPipe, MatButton],
  template: `
    <div class="page">
      <div class="page-head">
        <h1 i18n>Recent changes</h1>
        <span i18n class="soft">
          Your own, of the last 30 days. An undo puts back everything the change did, unless it was changed
          since.
        </span>
      </div>
      @if (imports.value(); as found) {
        @if (found.imports.length > 0) {
          <section aria-labelledby="imports-title">
            <h2 i18n id="imports-title">Imported files</h2>
            <ul>
              @for (file of found.imports; track file.id) {
                <li>
                  <span class="what">
                    <b>{{ file.fileName }}</b>
                    <span class="soft">{{ stateOf(file) }}</span>
                  </span>
                  <span class="soft">{{ file.at | moment }} · {{ file.byName }}</span>
                  @if (file.canUndo) {
                    <button i18n matButton type="button" (click)="undoImport(file)">Undo</button>
                  }
                </li>
              }
            </ul>
          </section>
        }
      }
      <section aria-labelledby="changes-title">
        <h2 i18n id="changes-title">Changes</h2>
        @if (changes.value(); as found) {
          <ul>
            @for (change of found.changes; track change.id) {
              <li [class.undone]="change.isUndone">
                <span class="what">{{ change.words }}</span>
                <span class="soft">{{ change.at | moment }}</span>
                @if (change.canUndo) {
                  <button i18n matButton type="button" (click)="undoChange(change)">Undo</button>
                } @else if (change.isUndone) {
                  <span i18n class="soft">undone</span>
                }
              </li>
            } @empty {
              <li class="none">
                <kettle-empty i18n title="Nothing changed yet" i18n-title>
                  What you log, move, close, edit or import is listed here, with its undo.
                </kettle-empty>
              </li>
            }
          </ul>
        } @else {
          <kettle-waiting />
        }
      </section>
      @if (changes.state(); as state) {
        @if (state.kind === 'failed') {
          <kettle-failed [problem]="state.problem" (again)="changes.again()" />
        }
      }
    </div>
  `,
  styles: `
    li {
      display: grid;
      grid-template-columns: 1fr auto 80px;
      gap: var(--space-4);
      align-items: center;
      min-block-size: 40px;
      border-block-end: 1px solid var(--hairline);
    }
    li.none {
      display: block;
      border: 0;
    }
    ul {
      margin: 0;
      padding: 0;
      list-style: none;
    }
    .what {
      min-inline-size: 0;
      overflow-wrap: anywhere;
    }
    .what .soft {
      margin-inline-start: var(--space-2);
    }
    .undone .what {
      text-decoration: line-through;
    }
    h2 {
      padding-block: var(--space-5) var(--space-2);
    }
    @media (width < 900px) {
      li {
        grid-template-columns: 1fr auto;
      }
      .what {
        grid-column: 1 / -1;
      }
    }
  `,
})
export class ChangesPage {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  protected readonly changes = reading(() => this.api.call('listChanges', { query: { limit: 100 } }));
  protected readonly imports = reading(() => this.api.call('listImports'));

  constructor() {
    this.changes.read(undefined);
    this.imports.read(undefined);
    inject(ChangeStream)
      .of('import', 'bulk', 'change', 'contact', 'deal', 'task', 'lead', 'mail')
      .pipe(takeUntilDestroyed())
      .subscribe(() => {
        this.changes.again();
        this.imports.again();
      });
  }

  protected undoChange({ id }: ChangeSet): void {
    this.undo.changes(id, () => this.changes.again());
  }

  protected undoImport({ id }: ImportSummary): void {
    this.api.call('undoImport', { params: { id } }).subscribe({
      next: () => this.imports.again(),
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected stateOf({ state, kind, written, changed, kept }: ImportSummary): string {
    const records = sayCount(written, importKindForms[kind]);
    switch (state) {
      case 'undoing':
        return $localize`being undone, ${records}:records: left`;
      case 'undone':
        return kept === 0
          ? 'undone'
          : $localize`undone; ${sayCount(kept, $localize`record|records`)} changed since were kept`;
      default:
        return changed === 0 ? records : $localize`${records}:records:, ${changed}:changed: changed`;
    }
  }
}
