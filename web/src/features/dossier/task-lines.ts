import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { RouterLink } from '@angular/router';
import type { ReplyOf } from '@kettle/contract';
import { DayPipe } from '../../kit/say.pipes';
import { CurrentUser } from '../../services/current-user';

type Task = ReplyOf<'listTasks'>['tasks'][number];

/** Open tasks, soonest first; one due today or late can be walked at once. */
@Component({
  selector: 'kettle-task-lines',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIcon, RouterLink, DayPipe],
  template: `
    <ul>
      @for (task of tasks(); track task.id) {
        <li>
          <mat-icon [svgIcon]="task.channel" aria-hidden="true" />
          <span>
            {{ task.purpose }}
            @if (task.runWords) {
              <span class="soft">· {{ task.runWords }}</span>
            }
          </span>
          @if (task.dueOn <= user.today()) {
            <a class="now" routerLink="/walk" [queryParams]="{ key: 'task:' + task.id }">
              {{ task.dueOn | day }}
            </a>
          } @else {
            <span class="held">{{ task.dueOn | day }}</span>
          }
        </li>
      }
    </ul>
  `,
  styles: `
    li {
      display: grid;
      grid-template-columns: 16px 1fr auto;
      gap: var(--space-2);
      padding-block: 4px;
    }
    mat-icon {
      margin-block-start: 2px;
      color: var(--text-soft);
    }
    .held {
      color: var(--link);
    }
  `,
})
export class TaskLines {
  protected readonly user = inject(CurrentUser);
  readonly tasks = input.required<readonly Task[]>();
}
