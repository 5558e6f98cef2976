import {
  booleanAttribute,
  ChangeDetectionStrategy,
  Component,
  inject,
  input,
  output,
  signal,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { RouterLink } from '@angular/router';
import type { JournalEntry } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { MomentPipe } from '../../kit/say.pipes';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { MentionBox } from './mention-box';
import { RichText } from './rich-text';
import { tellLater } from '../../kit/tell-later';

const longFrom = 220;

/** Entries of the journal, newest first: what, when, by whom, what was said; comments below, edits and removal behind a menu. */
@Component({
  selector: 'kettle-journal-lines',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIcon, MatMenuModule, MentionBox, MomentPipe, RichText, RouterLink],
  templateUrl: './journal-lines.html',
  styleUrl: './journal-lines.scss',
})
export class JournalLines {
  protected readonly texts = {
    actsOn: (entry: string | number) => $localize`Acts on: ${entry}:entry:`,
    undo: $localize`undo`,
    comment: $localize`Comment`,
    thank: $localize`thank`,
    removeThanks: $localize`remove my thanks`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  protected readonly user = inject(CurrentUser);
  readonly entries = input.required<readonly JournalEntry[]>();
  readonly showDeal = input(false, { transform: booleanAttribute });
  readonly showPerson = input(false, { transform: booleanAttribute });
  /** Whether names of people and deals lead to them: where the entries are of several. */
  readonly isLinked = input(false, { transform: booleanAttribute });
  readonly canEdit = input(false, { transform: booleanAttribute });
  readonly isExpanded = input(false);
  readonly changed = output();
  private readonly tellChanged = tellLater(this.changed);
  private readonly unfolded = signal<ReadonlySet<string>>(new Set());
  protected readonly commenting = signal<string | null>(null);

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

  /** Thanks are for what a colleague did. */
  protected canThank(entry: JournalEntry): boolean {
    return entry.removedAt === null && entry.userId !== null && entry.userId !== this.user.person()?.id;
  }

  protected hasThanked({ thanks }: JournalEntry): boolean {
    return thanks.some(({ userId }) => userId === this.user.person()?.id);
  }

  protected thankedBy({ thanks }: JournalEntry): string {
    return thanks.map(({ userName }) => userName).join(', ');
  }

  protected thank(entry: JournalEntry): void {
    const isGiven = !this.hasThanked(entry);
    const changeId = v7();
    this.api.call('giveThanks', { params: { id: entry.id }, body: { isGiven } }, changeId).subscribe({
      next: () => {
        this.tellChanged();
        const words = isGiven ? $localize`Thanked ${entry.userName}:name:.` : $localize`Thanks removed.`;
        this.undo.offer(words, changeId, this.tellChanged);
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected comment(entry: JournalEntry, body: string): void {
    this.api.call('writeComment', { params: { id: entry.id }, body: { id: v7(), body } }).subscribe({
      next: () => {
        this.commenting.set(null);
        this.tellChanged();
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
