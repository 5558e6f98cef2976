import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { RouterLink } from '@angular/router';
import type { ContactId } from '@kettle/contract';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { fieldParts } from '../../kit/field';
import { MomentPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { WhyNot } from '../../kit/why-not';
import { Notices } from '../../services/notices';

/** What is held of one person: to be saved as a file, or erased for good once the name is typed. */
@Component({
  selector: 'kettle-personal-data-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [WhyNot, fieldParts, MatButtonModule, Failed, MatDialogModule, MomentPipe, RouterLink, Waiting],
  templateUrl: './personal-data-dialog.html',
  styleUrl: './personal-data.scss',
})
export class PersonalDataDialog {
  protected readonly texts = {
    typeTheirNameAbove: $localize`Type their name above first.`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<PersonalDataDialog, boolean>);
  private readonly notices = inject(Notices);
  protected readonly id = inject<ContactId>(MAT_DIALOG_DATA);
  protected readonly read = reading((id: ContactId) => this.api.call('personalData', { params: { id } }));
  protected readonly isErasing = signal(false);
  protected readonly isBusy = signal(false);
  protected readonly typed = signal('');
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly isTyped = computed(() => this.typed().trim() === this.read.value()?.name);

  constructor() {
    this.read.read(this.id);
  }

  protected fileOf(as: 'json' | 'readable'): string {
    return `/api/contacts/${this.id}/personal-data/file?as=${as}`;
  }

  protected erase(): void {
    const held = this.read.value();
    if (held === null || this.isBusy()) return;
    this.isBusy.set(true);
    const body = { version: held.version, name: this.typed() };
    this.api.call('erasePerson', { params: { id: this.id }, body }).subscribe({
      next: ({ words }) => {
        this.notices.say(words);
        this.dialog.close(true);
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
