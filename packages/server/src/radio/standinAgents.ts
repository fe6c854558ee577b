import type { StandinAgent } from '@kivram/contract/views/level';
import type { End } from '@kivram/core/budget/plan';
import { PoorPath } from '@kivram/standin/agent/poorPath';
import { randomBytes } from 'node:crypto';
import type { StandinWorlds } from './standinWorlds';

/** What a network on a building site does to packets: losses now and then, and some time. Invented for the stand-in. */
const path = { lossShare: 0.05, delayMs: 40, seed: 7 };

/** A stand-in radio measures anew so often, ms. */
const measuresEveryMs = 200;

interface Answering {
  told: StandinAgent;
  close(): void;
}

/** Stand-in radios that answer by SNMP on UDP ports of this computer, behind a path that loses packets: for trying what real radios need. */
export class StandinAgents {
  private readonly answering = new Map<string, Promise<Answering>>();

  constructor(private readonly worlds: StandinWorlds) {}

  /** Lets a radio answer, unless it does already. */
  async start(linkId: string, end: End): Promise<StandinAgent> {
    const key = `${linkId} ${end}`;
    const answering = this.answering.get(key) ?? this.open(linkId, end);
    this.answering.set(key, answering);
    answering.catch(() => this.answering.delete(key));
    return (await answering).told;
  }

  async close(): Promise<void> {
    for (const answering of await Promise.allSettled(this.answering.values()))
      if (answering.status === 'fulfilled') answering.value.close();
    this.answering.clear();
  }

  private async open(linkId: string, end: End): Promise<Answering> {
    const secret = (): string => randomBytes(9).toString('base64url');
    const access = { community: secret(), userName: 'kivram', authPassword: secret(), privPassword: secret() };
    // Few ask for it: the server starts without.
    const { LevelAgent } = await import('@kivram/standin/agent/levelAgent');
    const agent = await LevelAgent.start(() => this.worlds.page(linkId, end), access, { everyMs: measuresEveryMs });
    const before = await PoorPath.to(agent.port, path);
    const { lossShare, delayMs } = path;
    return {
      told: { host: '127.0.0.1', port: before.port, ...access, lossShare, delayMs },
      close: () => {
        before.close();
        agent.close();
      },
    };
  }
}
