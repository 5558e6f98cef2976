import { ApplicationRef, ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { bootstrapApplication, Title } from '@angular/platform-browser';
import type { Session } from '@kettle/contract';
import { SignIn } from './features/sign-in/index';
import { providers } from './providers';

@Component({
  selector: 'kettle-root',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [SignIn],
  template: '<kettle-sign-in (entered)="goIn($event)" />',
})
class Door {
  private readonly application = inject(ApplicationRef);
  private readonly root = document.querySelector('kettle-root')!;

  constructor() {
    inject(Title).setTitle($localize`Sign in · Ash Kettle`);
  }

  /** The pages take the door's place, where whoever came wanted to go. */
  protected async goIn(session: Session): Promise<void> {
    const { openApp } = await import('./app');
    const place = this.root.cloneNode() as Element;
    place.removeAttribute('ng-version');
    history.replaceState(null, '', wanted());
    this.application.destroy();
    document.body.prepend(place);
    await openApp(session);
  }
}

/** A page of ours, whatever the address says. */
function wanted(): string {
  const to = new URLSearchParams(location.search).get('to') ?? '';
  return /^\/(?![/\\])/.test(to) ? to : '/round';
}

export async function openDoor(): Promise<void> {
  await bootstrapApplication(Door, { providers });
}
