import { ChangeDetectionStrategy, Component, inject, input, type OnInit, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { RuleFiring } from '@kettle/contract';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { MomentPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { Notices } from '../../services/notices';

/** What a rule did to which record, of what it came, and its undo. */
@Component({
  selector: 'kettle-rule-firings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Failed, MatButtonModule, MomentPipe, RouterLink, Waiting],
  template: `
    @if (read.value(); as known) {
      <ul>
        @for (each of known.firings; track each.id) {
          <li>
            <div class="line">
              @if (each.path !== '') {
                <a [routerLink]="each.path">{{ each.name }}</a>
              } @else {
                <span i18n class="soft">a record that is gone</span>
              }
              <span class="soft">{{ each.at | moment }}</span>
              <span class="grow"></span>
              @if (each.isUndone) {
                <span i18n class="soft">undone</span>
              } @else if (each.changeId !== null && mayUndo()) {
                <button
                  matButton
                  type="button"
                  [attr.aria-label]="texts.undo(each.name)"
                  (click)="undo(each)"
                >
                  {{ texts.undoIt }}
                </button>
              }
            </div>
            <p class="soft">
              <span i18n>because {{ each.because }}</span>
            </p>
            <p [class.now]="each.state !== 'done'">{{ each.words }}</p>
          </li>
        } @empty {
          <li i18n class="soft">It did nothing yet.</li>
        }
      </ul>
      @if (known.isCut) {
        <p i18n class="soft">These are the newest 100; older ones are kept for a year.</p>
      }
    } @else if (read.state().kind !== 'failed') {
      <kettle-waiting />
    }
    @if (read.state(); as state) {
      @if (state.kind === 'failed') {
        <kettle-failed [problem]="state.problem" (again)="read.again()" />
      }
    }
  `,
  styleUrls: ['../programs/programs.scss'],
})
export class RuleFirings implements OnInit {
  protected readonly texts = {
    undoIt: $localize`undo`,
    undo: (name: string) => $localize`Undo what it did to ${name}:name:`,
  };

  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  readonly ruleId = input.required<string>();
  readonly mayUndo = input(false);
  readonly undone = output();
  protected readonly read = reading((id: string) => this.api.call('listFirings', { params: { id } }));

  ngOnInit(): void {
    this.read.read(this.ruleId());
  }

  protected undo({ id, name }: RuleFiring): void {
    this.api.call('undoFiring', { params: { id: this.ruleId(), firingId: id } }).subscribe({
      next: () => {
        this.notices.say($localize`Undone for ${name}:name:.`);
        this.read.again();
        this.undone.emit();
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
