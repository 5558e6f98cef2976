import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { HttpClient } from '@angular/common/http';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import type { CallOf, MailBox, MailDifference, MailRow } from '@kettle/contract';
import { Api, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { FileField } from '../../kit/file-field';
import { MomentPipe } from '../../kit/say.pipes';
import { Empty, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { endpoints } from '@kettle/contract/endpoints';
import { sayCount } from '@kettle/core/locale';
import { catchError, concatMap, EMPTY, from, toArray } from 'rxjs';
import { v7 } from 'uuid';
import { SelectedRecord } from '../../services/selected-record';
import { gridParts, GridStore, GridView, provideGrid } from '../grid/index';
import { MailGrid } from './mail-grid';
import { MailReader } from './mail-reader';
import { MovePicked } from './move-picked';
import { openWrite } from './open-write';
import { StirringList } from './stirring-list';
import type { TakenIn } from './take-in-dialog';

/** With whom a mail is filed, and for which of their deals: undefined lets the server say, null is none. */
interface Filed {
  readonly id: string;
  readonly name: string;
  readonly dealId?: string | null | undefined;
}

/** Whether a mail is one of somebody known, whose signature may say something new. */
const isOfKnown = ({ state, direction, contactId }: MailRow) =>
  state === 'filed' && direction === 'in' && contactId !== null;

const boxes: readonly { readonly name: MailBox; readonly words: string }[] = [
  { name: 'unfiled', words: $localize`To file` },
  { name: 'held', words: $localize`To decide` },
  { name: 'waiting', words: $localize`Waiting to go` },
  { name: 'sent', words: $localize`Sent` },
  { name: 'filed', words: $localize`Filed` },
  { name: 'let-go', words: $localize`Dismissed` },
];

/** What came in and is not filed yet, what goes out, what is to be decided, and the stream of signs of life. */
@Component({
  selector: 'kettle-mail-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: {
    class: 'whole',
    '(dragover)': 'isOfFiles($event) && $event.preventDefault()',
    '(drop)': 'drop($event)',
  },
  imports: [
    ...[gridParts, FileField, MatButtonModule, MomentPipe, Empty, Waiting],
    ...[MailReader, MovePicked, StirringList],
  ],
  providers: [provideGrid(MailGrid)],
  templateUrl: './mail-page.html',
  styleUrl: './mail-page.scss',
})
export class MailPage {
  protected readonly texts = {
    noSubject: $localize`no subject`,
  };

  private readonly api = inject(Api);
  private readonly http = inject(HttpClient);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  protected readonly selected = inject(SelectedRecord);

  /** The view, kept in the address: a box or the stirrings, and the mail that is read. */
  readonly box = input<string>();
  readonly mail = input<string>();

  readonly q = input<string>();
  readonly filter = input<string>();
  readonly sort = input<string>();
  readonly group = input<string>();
  readonly cols = input<string>();

  protected readonly boxes = boxes;
  /** What is wrong with files that were to be taken in. */
  protected readonly problems = signal<readonly string[]>([]);
  private readonly spec = inject(MailGrid);
  protected readonly store = inject<GridStore<MailRow>>(GridStore);
  protected readonly view = inject<GridView<MailRow>>(GridView);
  private readonly picked = viewChild(MovePicked);
  protected readonly isStirrings = computed(() => this.box() === 'stirrings');
  protected readonly shownBox = computed(
    (): MailBox => boxes.find(({ name }) => name === this.box())?.name ?? 'unfiled',
  );
  protected readonly stirring = reading((_: null) => this.api.call('listStirrings', { query: { limit: 1 } }));
  protected readonly counts = this.spec.boxes.asReadonly();
  protected readonly chosen = computed(
    (): MailRow | null => this.store.find(this.mail())?.row ?? this.store.known()[0] ?? null,
  );
  protected readonly one = reading((id: string) => this.api.call('getMail', { params: { id } }));
  /** What the mail in view says of a person who is known. */
  protected readonly writer = reading((id: string) => this.api.call('getMailWriter', { params: { id } }));
  private readonly reader = viewChild(MailReader);
  protected readonly shown = computed(() => {
    const mail = this.one.value();
    return mail !== null && mail.id === this.chosen()?.id ? mail : null;
  });

  protected readonly writerOf = computed(() => {
    const mail = this.shown();
    return mail !== null && isOfKnown(mail) ? this.writer.value() : null;
  });

  constructor() {
    this.view.follow(
      computed(() => ({
        box: this.shownBox(),
        q: this.q(),
        filter: this.filter(),
        sort: this.sort(),
        group: this.group(),
        cols: this.cols(),
      })),
    );
    effect(() => {
      const row = this.chosen();
      untracked(() => {
        if (row === null) return;
        this.one.read(row.id);
        if (isOfKnown(row)) this.writer.read(row.id);
      });
    });
    this.stirring.read(null);
    inject(ChangeStream)
      .of('mail', 'stirring')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.stirring.again());
    inject(Keys).bind(
      {
        keys: 'p',
        words: $localize`File the mail with the first person proposed`,
        act: () => this.fileFirst(),
      },
      { keys: 'x', words: $localize`Let the mail go`, act: () => this.letGoPicked() },
      { keys: 'l', words: $localize`Somebody new from the mail`, act: () => void this.takeIn() },
      { keys: 'd', words: $localize`Put the mail with the deal proposed`, act: () => this.putWithFirst() },
      {
        keys: 'k',
        words: $localize`Take over all that the signature says`,
        act: () => this.takeOver(this.writerOf()?.differs ?? []),
      },
      { keys: 'a', words: $localize`Answer the mail`, act: () => this.answer() },
    );
  }

  protected isOfFiles({ dataTransfer }: DragEvent): boolean {
    return dataTransfer?.types.includes('Files') ?? false;
  }

  protected drop(event: DragEvent): void {
    // The button takes its own.
    if (event.defaultPrevented || !this.isOfFiles(event)) return;
    event.preventDefault();
    this.addFiles([...(event.dataTransfer?.files ?? [])]);
  }

  /** Mails that were kept as files are taken in one after the other; what is none is said by name, and the others go on. */
  protected addFiles(files: readonly File[]): void {
    this.problems.set([]);
    const [method, path] = endpoints.addMailFile.split(' ') as [string, string];
    const headers = { 'Content-Type': 'application/octet-stream' };
    from(files)
      .pipe(
        concatMap((file) =>
          this.http
            .request<{ isNew: boolean }>(method, path, { body: file, params: { name: file.name }, headers })
            .pipe(
              catchError((error: unknown) => {
                const { fields, message } = problemOf(error);
                const why = fields[0] ? $localize`it ${fields[0].message}.` : message;
                this.problems.update((known) => [...known, `${file.name}: ${why}`]);
                return EMPTY;
              }),
            ),
        ),
        toArray(),
      )
      .subscribe((added) => {
        const isNew = added.filter((each) => each.isNew).length;
        const words = [
          ...(isNew > 0 ? [sayCount(isNew, $localize`mail is taken in|mails are taken in`)] : []),
          ...(added.length > isNew
            ? [sayCount(added.length - isNew, $localize`was here already|were here already`)]
            : []),
        ];
        if (words.length > 0) this.notices.say(`${words.join(', ')}.`);
      });
  }

  /** Another box: what was asked of the one before is asked no more. */
  protected open(box: MailBox | 'stirrings'): void {
    const none = { mail: null, q: null, filter: null, group: null };
    this.selected.setQuery({ ...none, box: box === 'unfiled' ? null : box });
  }

  private fileFirst(): void {
    if (this.picked()?.canMove()) return this.picked()?.file();
    const mail = this.shown();
    if (mail?.state !== 'unfiled' || this.isStirrings()) return;
    const first = mail.proposed[0];
    if (first) this.file({ id: first.contactId, name: first.name, dealId: this.reader()?.dealOf(first) });
    else this.notices.say($localize`Nobody is proposed for this mail: choose the person.`);
  }

  protected file({ id: contactId, name, dealId }: Filed): void {
    const mail = this.shown();
    if (mail === null) return;
    // An address whose domain says that it is not theirs is not kept with them.
    const keepAddress = mail.proof !== 'contradicted';
    const body = { version: mail.version, contactId, dealId, keepAddress } as CallOf<'fileMail'>['body'];
    const changeId = v7();
    this.api.call('fileMail', { params: { id: mail.id }, body }, changeId).subscribe({
      next: () => this.gone($localize`Filed with ${name}.`, changeId),
      error: (error: unknown) => this.failed(error),
    });
  }

  /** By its key all that are picked go. */
  protected letGoPicked(): void {
    if (this.picked()?.canMove()) this.picked()?.move(this.shownBox() === 'unfiled' ? 'let-go' : 'unfiled');
    else this.letGo();
  }

  protected letGo(): void {
    const mail = this.shown();
    if (mail?.state !== 'unfiled' || this.isStirrings()) return;
    const changeId = v7();
    const call = { params: { id: mail.id }, body: { version: mail.version } };
    this.api.call('letMailGo', call, changeId).subscribe({
      next: () => this.gone($localize`Dismissed.`, changeId),
      error: (error: unknown) => this.failed(error),
    });
  }

  /** Somebody new of the mail, on one screen; or, once it is seen that they are known, filed with them. */
  protected async takeIn(): Promise<void> {
    const mail = this.shown();
    if (mail?.state !== 'unfiled' || this.isStirrings()) return;
    const { TakeInDialog } = await import('./take-in-dialog');
    this.dialog
      .open(TakeInDialog, { data: { mail }, width: '760px' })
      .afterClosed()
      .subscribe((taken: TakenIn | undefined) => {
        if (taken === undefined) return;
        if ('known' in taken) return this.file(taken.known);
        this.gone($localize`${taken.name}:name: created, and the mail filed there.`, taken.changeId);
      });
  }

  /** The first deal that is proposed for one that is filed without. */
  private putWithFirst(): void {
    const [first] = this.shown()?.deals ?? [];
    if (first && this.shown()?.dealId === null) this.putWith(first.id);
  }

  protected putWith(dealId: string | null): void {
    const mail = this.shown();
    if (mail === null || mail.dealId === dealId) return;
    const changeId = v7();
    const body = { version: mail.version, dealId } as CallOf<'putMailWithDeal'>['body'];
    this.api.call('putMailWithDeal', { params: { id: mail.id }, body }, changeId).subscribe({
      next: ({ dealName }) => {
        const words =
          dealName === null ? $localize`With no deal now.` : $localize`Put with ${dealName}:deal:.`;
        this.seen(words, changeId);
      },
      error: (error: unknown) => this.failed(error),
    });
  }

  /** What a signature says goes into the person's record. */
  protected takeOver(take: readonly MailDifference[]): void {
    const [mail, writer] = [this.shown(), this.writer.value()];
    if (mail === null || writer === null || writer.contactVersion === null || take.length === 0) return;
    const changeId = v7();
    const body = { contactVersion: writer.contactVersion, take: [...take] };
    this.api.call('takeFromMail', { params: { id: mail.id }, body }, changeId).subscribe({
      next: ({ name }) => this.seen($localize`Taken over into ${name}:name:.`, changeId),
      error: (error: unknown) => this.failed(error),
    });
  }

  protected takeBack(row: MailRow): void {
    this.api.call('unfileMail', { params: { id: row.id }, body: { version: row.version } }).subscribe({
      next: () => this.gone($localize`Back among those to file.`),
      error: (error: unknown) => this.failed(error),
    });
  }

  protected decide(as: 'arrived' | 'send-again'): void {
    const mail = this.shown();
    if (mail === null) return;
    this.api.call('decideHeld', { params: { id: mail.id }, body: { version: mail.version, as } }).subscribe({
      next: () => this.gone(as === 'arrived' ? $localize`Kept as sent.` : $localize`It goes out once more.`),
      error: (error: unknown) => this.failed(error),
    });
  }

  protected answer(): void {
    const mail = this.shown();
    if (mail === null || mail.contactId === null || mail.direction !== 'in') return;
    const { contactId, contactName: name, id: answers } = mail;
    openWrite(this.dialog, { channel: 'email', contactId, name, answers }).subscribe();
  }

  /** Said of a mail that stays in view. */
  private seen(words: string, changeId: string): void {
    const again = () => {
      this.one.again();
      this.writer.again();
      this.store.again();
    };
    again();
    this.undo.offer(words, changeId, again);
  }

  private gone(words: string, changeId?: string): void {
    this.selected.setQuery({ mail: null });
    this.store.again();
    if (changeId === undefined) this.notices.say(words);
    else this.undo.offer(words, changeId, () => this.store.again());
  }

  private failed(error: unknown): void {
    this.notices.problem(error);
    if (problemOf(error).code === 'stale') {
      this.store.again();
      this.one.again();
      this.writer.again();
    }
  }
}
