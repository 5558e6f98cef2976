import type { CadenceFile, ReplyOf } from '@kettle/contract';
import { type Observable, throwError } from 'rxjs';
import { type Api, ApiProblem } from '../../api/api';

/** Hands a cadence over as a file named after it. */
export function downloadCadence(file: CadenceFile): void {
  const address = URL.createObjectURL(
    new Blob([JSON.stringify(file, null, 2)], { type: 'application/json' }),
  );
  const link = document.createElement('a');
  link.href = address;
  link.download = `${file.name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}.json`;
  link.click();
  URL.revokeObjectURL(address);
}

/** What the text of such a file would make; fails with what is wrong and where. */
export function readCadenceText(api: Api, text: string): Observable<ReplyOf<'readCadenceFile'>> {
  try {
    return api.call('readCadenceFile', { body: JSON.parse(text) as CadenceFile });
  } catch {
    return throwError(
      () =>
        new ApiProblem(
          'unreadable-file',
          $localize`This is not a cadence file: it is not JSON. Choose another.`,
        ),
    );
  }
}
