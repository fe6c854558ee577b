import { fork, type ChildProcess } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';

/** Does pieces of work of one kind on all cores. The program that makes it is run once more for each, and waits there for pieces. */
export class Pool<Piece extends object, Result extends object> {
  /** whether this process is a worker of another one */
  readonly isWorker = process.send !== undefined;
  private readonly idle: ChildProcess[] = [];
  private readonly waiting: ((worker: ChildProcess) => void)[] = [];
  private readonly workers: ChildProcess[] = [];

  /** @param file the program itself, by its address */
  constructor(file: string, work: (piece: Piece) => Result) {
    if (this.isWorker) {
      process.on('message', (piece: Piece) => process.send?.(work(piece)));
      return;
    }
    for (let i = 0; i < availableParallelism(); i++) {
      const worker = fork(fileURLToPath(file), { serialization: 'advanced' });
      this.workers.push(worker);
      this.idle.push(worker);
    }
  }

  async do(piece: Piece): Promise<Result> {
    const worker = this.idle.pop() ?? (await new Promise<ChildProcess>((resolve) => this.waiting.push(resolve)));
    const result = new Promise<Result>((resolve, reject) => {
      worker.once('message', (answer) => {
        worker.removeListener('exit', fail);
        resolve(answer as Result);
      });
      const fail = (): void => reject(new Error('a worker ended in the middle of its work'));
      worker.once('exit', fail);
    });
    worker.send(piece);
    await result;
    const next = this.waiting.shift();
    if (next) next(worker);
    else this.idle.push(worker);
    return result;
  }

  end(): void {
    for (const worker of this.workers) worker.kill();
  }
}
