import { pino, stdSerializers, type DestinationStream, type Logger } from 'pino';

/** What an error of the driver says holds the statement, and what it was given: names, addresses, texts. */
const drivers = new Set(['sql', 'sqlMessage', 'parameters']);

/** An error for the log: what went wrong and where, never what somebody typed. */
export function errorForLog(error: unknown): unknown {
  if (!(error instanceof Error)) return error;
  const { message, stack, cause, ...rest } = stdSerializers.err(error) as unknown as Record<string, unknown>;
  const isDrivers = 'sqlMessage' in error;
  const kept = Object.fromEntries(
    Object.entries(rest).filter(
      ([name]) => !drivers.has(name) && name !== 'aggregateErrors' && name !== 'raw',
    ),
  );
  return {
    ...kept,
    message: isDrivers ? `the database refused a statement (${String(kept.code)})` : error.message,
    // The first line of a stack is the message; what caused it is beside it.
    stack: String(error.stack ?? '')
      .split('\n')
      .filter((line) => /^\s+at /.test(line))
      .join('\n'),
    ...(error.cause === undefined ? {} : { cause: errorForLog(error.cause) }),
  };
}

/** The program's own log, one line of JSON for each thing. */
export const makeLog = (level: string, to?: DestinationStream): Logger =>
  pino({ level, serializers: { err: errorForLog } }, to as DestinationStream);
