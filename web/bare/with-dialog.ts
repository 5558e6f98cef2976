import { provideHttpClient, withFetch } from '@angular/common/http';
import { Component, inject, Injector, provideZonelessChangeDetection } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { MatListModule } from '@angular/material/list';
import { MatSidenavModule } from '@angular/material/sidenav';
import { MatToolbarModule } from '@angular/material/toolbar';
import { bootstrapApplication } from '@angular/platform-browser';
import { provideRouter, RouterOutlet } from '@angular/router';

/** The same shell with a dialog; apart, because what a dialog shares with the shell would come with its first load. */
@Component({
  selector: 'bare-shell',
  imports: [RouterOutlet, MatToolbarModule, MatSidenavModule, MatListModule, MatIconModule],
  host: { '(document:keydown)': 'open($event)' },
  template: `
    <mat-toolbar>
      Bare
      <mat-icon svgIcon="menu" />
    </mat-toolbar>
    <mat-sidenav-container>
      <mat-sidenav opened mode="side">
        <mat-nav-list><a mat-list-item>One</a></mat-nav-list>
      </mat-sidenav>
      <mat-sidenav-content><router-outlet /></mat-sidenav-content>
    </mat-sidenav-container>
  `,
})
class BareShell {
  private readonly injector = inject(Injector);

  /** What a dialog needs comes with the first one, as ours does. */
  protected async open({ key }: KeyboardEvent): Promise<void> {
    if (key !== 'd') return;
    const [{ MatDialog }, { BareDialog }] = await Promise.all([
      import('@angular/material/dialog'),
      import('./dialog'),
    ]);
    this.injector.get(MatDialog).open(BareDialog);
  }
}

void bootstrapApplication(BareShell, {
  providers: [provideZonelessChangeDetection(), provideHttpClient(withFetch()), provideRouter([])],
});
