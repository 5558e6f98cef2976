import { inject } from '@angular/core';
import { type CanActivateFn, Router } from '@angular/router';
import { catchError, map, of } from 'rxjs';
import { Api } from '../api/api';
import { beenHere } from '../services/been-here';
import { CurrentUser } from '../services/current-user';

/** Lets nobody in who is not signed in, and remembers where they wanted to go. */
export const needsSession: CanActivateFn = (_route, state) => {
  const user = inject(CurrentUser);
  const router = inject(Router);
  /** Whoever must have a second factor sets it up before anything else. */
  const goOn = () =>
    user.session()?.needsSecondFactor === true && !state.url.startsWith('/settings')
      ? router.createUrlTree(['/settings'], { queryParams: { part: 'account' } })
      : true;
  if (user.session() !== null) return goOn();
  return inject(Api)
    .call('session')
    .pipe(
      map((session) => {
        user.enter(session);
        return goOn();
      }),
      catchError(() => {
        beenHere.forget();
        location.replace(`/sign-in?${new URLSearchParams({ to: state.url }).toString()}`);
        return of(false);
      }),
    );
};
