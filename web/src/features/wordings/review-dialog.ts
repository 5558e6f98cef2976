import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { Wording } from '@kettle/contract';
import type { Observable } from 'rxjs';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { Conflicts } from '../../kit/conflicts';
import { Submission } from '../../kit/submission';
import { fieldParts } from '../../kit/field';
import { MomentPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { WhyNot } from '../../kit/why-not';
import { CurrentUser } from '../../services/current-user';
import { Undo } from '../../services/undo';
import { compare, type InUse } from './compare';

/** A change that waits for release, field by field beside what is in use. */
@Component({
  selector: 'kettle-review-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [WhyNot, fieldParts, MatButtonModule, Conflicts, Failed, MatDialogModule, MomentPipe, Waiting],
  template: `
    <h2 mat-dialog-title>{{ isNew ? texts.new : texts.changeOf }}{{ wording.name }}</h2>
    <mat-dialog-content>
      <p i18n class="soft">
        {{ wording.authorName }}, {{ wording.at | moment }}. It goes out in everyone’s name once it is
        released.
      </p>
      @if (isRead()) {
        @for (field of fields(); track field.path) {
          <section [attr.aria-label]="field.label">
            <h3>{{ field.label }}</h3>
            <div class="sides" [class.one]="isNew">
              @if (!isNew) {
                <div>
                  <span i18n class="soft">in use</span>
                  <p>{{ field.now || texts.nothing }}</p>
                </div>
              }
              <div class="asked">
                @if (!isNew) {
                  <span i18n class="soft">asked for</span>
                }
                <p>{{ field.asked || texts.nothing }}</p>
              </div>
            </div>
          </section>
        } @empty {
          <p i18n>It is in use as it is asked for: others changed it so meanwhile.</p>
        }
      } @else if (failed() === null) {
        <kettle-waiting />
      }
      @if (failed(); as problem) {
        <kettle-failed [problem]="problem" (again)="read()" />
      }
      @if (deciding.problem(); as wrong) {
        <p class="wrong" role="alert">{{ wrong.message }}</p>
      }
      <kettle-conflicts
        [problem]="deciding.problem()"
        [sent]="deciding.sent()"
        [(choices)]="deciding.choices"
      />
      @if (isDeclining()) {
        <mat-form-field>
          <mat-label i18n>Why not? {{ wording.authorName }} reads it.</mat-label>
          <textarea
            matInput
            #why
            rows="2"
            maxlength="500"
            (input)="said.set(why.value)"
            required
            [kettleProblem]="deciding.problem()?.of('said')"
          ></textarea>
          @if (deciding.problem()?.of('said'); as wrong) {
            <mat-error>{{ wrong }}</mat-error>
          }
        </mat-form-field>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      @if (isMine) {
        <button i18n matButton="outlined" type="button" (click)="withdraw()">Withdraw it</button>
      }
      @if (user.mayRelease()) {
        @if (isDeclining()) {
          <button i18n matButton="outlined" type="button" (click)="isDeclining.set(false)">Back</button>
          <button
            i18n
            matButton="filled"
            type="button"
            (click)="decline()"
            [kettleWhyNot]="said().trim() ? null : texts.sayWhyWhoeverWrote"
          >
            Decline it
          </button>
        } @else {
          <button i18n matButton="outlined" type="button" (click)="isDeclining.set(true)">Decline …</button>
          <button i18n matButton="filled" type="button" (click)="release()">Release it</button>
        }
      }
      <button i18n matButton="outlined" type="button" mat-dialog-close>Close</button>
    </mat-dialog-actions>
  `,
  styles: `
    mat-dialog-content {
      display: grid;
      gap: var(--space-3);
      align-content: start;
    }
    h3 {
      margin: 0;
    }
    .sides {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: var(--space-3);
    }
    .sides.one {
      grid-template-columns: 1fr;
    }
    .sides > div {
      padding: var(--space-2) var(--space-3);
      border: 1px solid var(--hairline);
    }
    .sides p {
      margin: 0;
      white-space: pre-wrap;
      overflow-wrap: anywhere;
    }
    .asked {
      background: var(--band);
    }
    @media (max-width: 600px) {
      .sides {
        grid-template-columns: 1fr;
      }
    }
  `,
})
export class ReviewDialog {
  protected readonly texts = {
    new: $localize`New: `,
    changeOf: $localize`Change of `,
    nothing: $localize`nothing`,
    sayWhyWhoeverWrote: $localize`Say why: whoever wrote it reads it.`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<ReviewDialog, boolean>);
  private readonly undo = inject(Undo);
  protected readonly user = inject(CurrentUser);
  protected readonly wording = inject<Wording>(MAT_DIALOG_DATA);

  protected readonly isNew = this.wording.act.startsWith('create');
  protected readonly isMine = this.wording.authorId === this.user.person()?.id;
  private readonly templates = reading((_: null) => this.api.call('listTemplates'));
  private readonly cadences = reading((_: null) => this.api.call('listCadences'));
  protected readonly isRead = computed(
    () => this.templates.value() !== null && this.cadences.value() !== null,
  );
  protected readonly failed = computed(() => {
    const failed = [this.templates.state(), this.cadences.state()].find(({ kind }) => kind === 'failed');
    return failed?.kind === 'failed' ? failed.problem : null;
  });
  private readonly inUse = computed((): InUse | null => {
    const { templateId, snippetId, cadenceId } = this.wording;
    const all: readonly InUse[] = [
      ...(this.templates.value()?.templates ?? []),
      ...(this.templates.value()?.snippets ?? []),
      ...(this.cadences.value()?.cadences ?? []),
    ];
    return all.find(({ id }) => id === (templateId ?? snippetId ?? cadenceId)) ?? null;
  });
  protected readonly fields = computed(() => {
    const templates = this.templates.value()?.templates ?? [];
    const nameOf = (id: string) =>
      templates.find((each) => each.id === id)?.name ?? $localize`a template that is gone`;
    return compare(this.wording.asked, this.inUse(), nameOf);
  });
  protected readonly deciding = new Submission();
  protected readonly isDeclining = signal(false);
  protected readonly said = signal('');

  constructor() {
    this.read();
  }

  protected read(): void {
    this.templates.read(null);
    this.cadences.read(null);
  }

  protected release(): void {
    const changeId = v7();
    // Conflicts are between what is asked for and what is in use.
    const { resolved } = this.deciding.bodyOf({ ...this.wording.asked });
    const body = { version: this.wording.version, resolved };
    this.decide(
      this.api.call('releaseWording', { params: { id: this.wording.id }, body }, changeId),
      $localize`${this.wording.name} is released: it goes out so from now on.`,
      changeId,
    );
  }

  protected decline(): void {
    const changeId = v7();
    const body = { version: this.wording.version, said: this.said() };
    const declined$ = this.api.call('declineWording', { params: { id: this.wording.id }, body }, changeId);
    this.decide(declined$, $localize`Declined. ${this.wording.authorName} reads why.`, changeId);
  }

  protected withdraw(): void {
    const changeId = v7();
    const body = { version: this.wording.version };
    const withdrawn$ = this.api.call('withdrawWording', { params: { id: this.wording.id }, body }, changeId);
    this.decide(withdrawn$, $localize`Withdrawn.`, changeId);
  }

  private decide(done$: Observable<unknown>, words: string, changeId: string): void {
    done$.subscribe({
      next: () => {
        this.undo.offer(words, changeId);
        this.dialog.close(true);
      },
      error: this.deciding.refuse,
    });
  }
}
