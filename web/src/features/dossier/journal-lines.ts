import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import type { JournalEntry } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { fieldParts } from '../../kit/field';
import { MomentPipe } from '../../kit/say.pipes';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { PeopleWords } from '../fields/index';
import { proposeMentions } from './mentions';
import { RichText } from './rich-text';
import { tellLater } from '../../kit/tell-later';

const longFrom = 220;

/** Entries of the journal, newest first: what, when, by whom, what was said; comments below, edits and removal behind a menu. */
@Component({
  selector: 'kettle-journal-lines',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatAutocompleteModule, MatButtonModule, MatIcon, MatMenuModule, MomentPipe, RichText],
  templateUrl: './journal-lines.html',
  styleUrl: './journal-lines.scss',
})
export class JournalLines {
  protected readonly texts = {
    actsOn: (entry: string | number) => $localize`Acts on: ${entry}:entry:`,
    undo: $localize`undo`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  protected readonly user = inject(CurrentUser);
  readonly entries = input.required<readonly JournalEntry[]>();
  readonly showDeal = input(false);
  readonly showPerson = input(false);
  readonly canEdit = input(false);
  readonly isExpanded = input(false);
  readonly changed = output();
  private readonly tellChanged = tellLater(this.changed);
  private readonly unfolded = signal<ReadonlySet<string>>(new Set());
  protected readonly commenting = signal<string | null>(null);
  private readonly people = inject(PeopleWords);
  private readonly before = signal('');
  /** Colleagues whom an unfinished @name in the comment may mean. */
  protected readonly mentions = computed(() => proposeMentions(this.before(), this.people.colleagues()));

  protected titleOf(entry: JournalEntry): string {
    if (entry.kind === 'system') return entry.body;
    if (entry.kind === 'note') return $localize`Note`;
    const way = entry.direction === 'in' ? $localize` (from them)` : '';
    return `${entry.outcomeLabel ?? entry.kind}${way}`;
  }

  protected bodyOf(entry: JournalEntry): string {
    return entry.kind === 'system' ? '' : entry.body;
  }

  protected isLong(entry: JournalEntry): boolean {
    return entry.body.length > longFrom && entry.kind !== 'system';
  }

  protected isFolded(entry: JournalEntry): boolean {
    return this.isLong(entry) && !this.isExpanded() && !this.unfolded().has(entry.id);
  }

  protected unfold(entry: JournalEntry): void {
    this.unfolded.update((known) => new Set(known).add(entry.id));
  }

  protected mayEdit(entry: JournalEntry): boolean {
    return entry.kind !== 'system' && this.user.mayChange(entry.userId);
  }

  protected async edit(entry: JournalEntry): Promise<void> {
    const { EntryDialog } = await import('./entry-dialog');
    this.dialog
      .open(EntryDialog, { data: entry, width: '560px', maxWidth: '96vw' })
      .afterClosed()
      .subscribe(this.tellChanged);
  }

  protected async history(entry: JournalEntry): Promise<void> {
    const { HistoryDialog } = await import('./history-dialog');
    this.dialog.open(HistoryDialog, { data: entry, width: '560px', maxWidth: '96vw' });
  }

  protected remove(entry: JournalEntry): void {
    this.api.call('removeEntry', { params: { id: entry.id }, body: { version: entry.version } }).subscribe({
      next: () => {
        this.tellChanged();
        this.notices.say($localize`Removed from the journal.`, () => this.restore(entry));
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected restore(entry: JournalEntry): void {
    this.api.call('restoreEntry', { params: { id: entry.id } }).subscribe({
      next: this.tellChanged,
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  /** What stands before the cursor decides who is proposed. */
  protected propose(box: HTMLInputElement): void {
    this.people.wake();
    this.before.set(box.value.slice(0, box.selectionStart ?? box.value.length));
  }

  /** Enter takes the name that is proposed first, also before the list has marked it: it never sends half a name. */
  protected takeFirst(event: Event, box: HTMLInputElement): void {
    const first = this.mentions()[0];
    if (event.defaultPrevented || first === undefined) return;
    event.preventDefault();
    box.setRangeText(first.text, 0, box.selectionStart ?? box.value.length, 'end');
    this.propose(box);
  }

  protected comment(entry: JournalEntry, box: HTMLInputElement): void {
    const body = box.value.trim();
    if (!body) return;
    this.api.call('writeComment', { params: { id: entry.id }, body: { id: v7(), body } }).subscribe({
      next: () => {
        box.value = '';
        this.commenting.set(null);
        this.tellChanged();
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
