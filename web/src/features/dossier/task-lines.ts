import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { RouterLink } from '@angular/router';
import type { Task } from '@kettle/contract';
import { DayPipe } from '../../kit/say.pipes';
import { CurrentUser } from '../../services/current-user';
import { TaskActs } from '../tasks/index';
import { tellLater } from '../../kit/tell-later';

/** Open tasks, soonest first, each with its time and whose it is if not mine; one of mine that is due opens in the walk. */
@Component({
  selector: 'kettle-task-lines',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIcon, MatMenuModule, RouterLink, DayPipe],
  template: `
    <ul>
      @for (task of tasks(); track task.id) {
        <li>
          <mat-icon [svgIcon]="task.channel" aria-hidden="true" />
          <span>
            @if (task.dueOn <= user.today() && task.ownerId === user.person()?.id) {
              <a routerLink="/walk" [queryParams]="{ key: 'task:' + task.id, alone: 'yes' }">
                {{ task.purpose }}
              </a>
            } @else {
              {{ task.purpose }}
            }
            @if (task.ownerId !== user.person()?.id) {
              <span class="soft">· {{ task.ownerName }}</span>
            }
            @if (task.runWords) {
              <span class="soft">· {{ task.runWords }}</span>
            }
          </span>
          <span class="when">
            <span [class]="task.dueOn <= user.today() ? 'now' : 'held'">{{ task.dueOn | day }}</span>
            @if (task.promisedAt) {
              {{ user.timeOf(task.promisedAt) }}
            }
          </span>
          @if (user.mayChange(task.ownerId)) {
            <button
              matIconButton
              type="button"
              [matMenuTriggerFor]="more"
              [matMenuTriggerData]="{ task }"
              [attr.aria-label]="texts.actsOn(task.purpose)"
            >
              <mat-icon svgIcon="more" />
            </button>
          }
        </li>
      }
    </ul>
    <mat-menu #more="matMenu">
      <ng-template matMenuContent let-task="task">
        <button i18n mat-menu-item (click)="acts.log(task, again)">Log</button>
        <button i18n mat-menu-item (click)="acts.finish(task, again)">Done</button>
        <button i18n mat-menu-item (click)="acts.defer(task, again)">Defer</button>
        <button i18n mat-menu-item (click)="acts.change(task, again)">Change</button>
        <button i18n mat-menu-item (click)="acts.drop(task, again)">Drop</button>
      </ng-template>
    </mat-menu>
  `,
  styles: `
    li {
      display: grid;
      grid-template-columns: 16px 1fr auto 28px;
      gap: var(--space-2);
      align-items: center;
      padding-block: 1px;
    }
    mat-icon {
      color: var(--text-soft);
    }
    .when {
      text-align: end;
    }
    .held {
      color: var(--link);
    }
  `,
})
export class TaskLines {
  protected readonly texts = {
    actsOn: (purpose: string | number) => $localize`Acts on ${purpose}:purpose:`,
  };

  protected readonly user = inject(CurrentUser);
  protected readonly acts = inject(TaskActs);
  readonly tasks = input.required<readonly Task[]>();
  /** One of them is as it is shown no longer: read them again. */
  readonly changed = output();
  protected readonly again = tellLater(this.changed);
}
