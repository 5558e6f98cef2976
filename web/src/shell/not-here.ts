import { Component } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Empty } from '../kit/states';

@Component({
  selector: 'kettle-not-here',
  imports: [Empty, RouterLink],
  template: `
    <div class="page">
      <kettle-empty i18n title="There is nothing at this address" i18n-title>
        It may have been moved or mistyped.
        <a routerLink="/round">Go to the Round</a>
      </kettle-empty>
    </div>
  `,
})
export class NotHere {}
