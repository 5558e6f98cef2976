import type { ImportKind } from '@kettle/contract';
import type { FileKind } from './file-kind';
import { people } from './people/people-kind';
import { recordKinds } from './records/index';

/** Whatever a file can hold. */
export const fileKinds: Readonly<Record<ImportKind, FileKind>> = { people, ...recordKinds };
