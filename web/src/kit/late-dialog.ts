import type { ComponentType } from '@angular/cdk/portal';
import { inject, Injectable, Injector } from '@angular/core';
import type { MatDialog, MatDialogConfig, MatDialogRef } from '@angular/material/dialog';

/** Material's dialogs for what is there from the start: they come with the first dialog, not with the frame. */
@Injectable({ providedIn: 'root' })
export class LateDialog {
  private readonly injector = inject(Injector);

  /** What holds for every dialog is seen to from here on. */
  async get(): Promise<MatDialog> {
    const { GuardedDialogs } = await import('./guarded-dialogs');
    return this.injector.get(GuardedDialogs).dialog;
  }

  async open<Dialog, Data, Result>(
    dialog: ComponentType<Dialog>,
    config: MatDialogConfig<Data>,
  ): Promise<MatDialogRef<Dialog, Result>> {
    return (await this.get()).open<Dialog, Data, Result>(dialog, config);
  }
}
