import { inject, Injectable } from '@angular/core';
import { NavigationEnd, Router } from '@angular/router';
import { filter } from 'rxjs';

/** The last place before the walk: a list with its filter, to come back to once somebody was logged from it. */
@Injectable({ providedIn: 'root' })
export class Origin {
  private last: string | null = null;

  constructor() {
    inject(Router)
      .events.pipe(filter((event) => event instanceof NavigationEnd))
      .subscribe(({ urlAfterRedirects }) => {
        if (!urlAfterRedirects.startsWith('/walk')) this.last = urlAfterRedirects;
      });
  }

  read(): string | null {
    return this.last;
  }
}
