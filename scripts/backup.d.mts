interface Where {
  readonly socket?: string;
  readonly url?: string;
}
export function dumpTo(from: Where, file: string): Promise<void>;
export function restoreFrom(file: string, into: Where): Promise<void>;
