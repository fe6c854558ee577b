import { pino, type DestinationStream, type Logger } from 'pino';

/**
 * The server's log. An error of the database carries the statement and its values, among them passphrases, in several places: those
 * never reach the log.
 */
export function createLog(level: string, stream?: DestinationStream): Logger {
  const options = {
    level,
    serializers: {
      err: (error: unknown) => {
        const { name, message, stack } = error instanceof Error ? error : new Error(String(error));
        return { type: name, message, stack };
      },
    },
  };
  return stream ? pino(options, stream) : pino(options);
}
