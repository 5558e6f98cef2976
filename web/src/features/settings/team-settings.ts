import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { Role } from '@kettle/contract';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';

/** Who signs in; an admin adds people. */
@Component({
  selector: 'kettle-team-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule],
  templateUrl: './team-settings.html',
  styleUrl: './settings-part.scss',
})
export class TeamSettings {
  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  private readonly notices = inject(Notices);
  protected readonly roles: readonly Role[] = ['rep', 'manager', 'admin'];
  protected readonly me = computed(() => this.user.person());
  protected readonly people = reading((_: null) => this.api.call('listColleagues'));
  protected readonly userProblem = signal<ApiProblem | null>(null);
  protected newUser = this.blankUser();

  constructor() {
    this.people.read(null);
  }

  protected addUser(): void {
    const me = this.me();
    const body = { ...this.newUser, zone: me?.zone ?? 'Europe/London', country: me?.country ?? 'GB' };
    this.api.call('createUser', { body }).subscribe({
      next: (person) => {
        this.userProblem.set(null);
        this.newUser = this.blankUser();
        this.notices.say(`${person.name} can sign in now.`);
        this.people.again();
      },
      error: (error: unknown) => this.userProblem.set(problemOf(error)),
    });
  }

  private blankUser(): { name: string; email: string; password: string; role: Role } {
    return { name: '', email: '', password: '', role: 'rep' };
  }
}
