import { provideHttpClient, withFetch } from '@angular/common/http';
import { Component, provideZonelessChangeDetection } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { MatListModule } from '@angular/material/list';
import { MatSidenavModule } from '@angular/material/sidenav';
import { MatToolbarModule } from '@angular/material/toolbar';
import { bootstrapApplication } from '@angular/platform-browser';
import { provideRouter, RouterOutlet } from '@angular/router';

/** What a shell of Angular and Material weighs with nothing in it: the measure for our first load. */
@Component({
  selector: 'bare-shell',
  imports: [RouterOutlet, MatToolbarModule, MatSidenavModule, MatListModule, MatIconModule],
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
class BareShell {}

void bootstrapApplication(BareShell, {
  providers: [provideZonelessChangeDetection(), provideHttpClient(withFetch()), provideRouter([])],
});
