import type { LevelProfileBody } from '@kivram/contract/requests/level';
import type { DeviceAnswer, DeviceValue } from '@kivram/contract/views/level';
import jsonpointer from 'jsonpointer';
import { sizeOfJson } from '../../http/body';
import { DeviceError, mostValues, type LevelDevice, type ToldLevel } from './device';
import { numberIn, toldBy } from './profileValues';

const longestText = 200;

/** No radio's state goes deeper, holds more values, or has a longer way to one of them. */
const deepest = 32;
const mostInAnswer = 20_000;
const longestWhere = 500;

/** A radio whose state comes as JSON, from an address or a command. Values are found in it by JSON Pointers (RFC 6901). */
export class JsonDevice implements LevelDevice {
  /** @param fetchText one answer, as text; throws DeviceError @param shown takes out of what a person sees of it what nobody may see */
  constructor(
    private readonly fetchText: () => Promise<string>,
    private readonly profile: Pick<LevelProfileBody, 'level' | 'chains' | 'noise' | 'txRate' | 'rxRate'>,
    private readonly shown = (text: string): string => text,
  ) {}

  async ask(): Promise<ToldLevel> {
    const answer = this.parsed(await this.fetchText());
    return toldBy(this.profile, (where) => at(answer, where));
  }

  async explore(): Promise<DeviceAnswer> {
    const begun = performance.now();
    const answer = this.parsed(await this.fetchText());
    const tookMs = performance.now() - begun;
    const values: DeviceValue[] = [];
    this.collect(answer, '', values);
    return { values: values.slice(0, mostValues), isWhole: values.length <= mostValues, tookMs };
  }

  close(): void {
    // Each question stands for itself.
  }

  /** @throws DeviceError where it is none, or more than a radio's state */
  private parsed(text: string): unknown {
    const { depth, values } = sizeOfJson(Buffer.from(text));
    if (depth > deepest || values > mostInAnswer)
      throw new DeviceError(
        `The answer holds ${values} values, ${depth} deep: that is no state of a radio, which has ${mostInAnswer} at most, ${deepest} deep.`,
      );
    try {
      return JSON.parse(text);
    } catch {
      const begin = this.shown(text.trim()).slice(0, 60);
      throw new DeviceError(begin ? `The answer is no JSON; it begins "${begin}".` : 'The answer is empty.');
    }
  }

  private collect(part: unknown, where: string, into: DeviceValue[]): void {
    if (into.length > mostValues || where.length > longestWhere) return;
    if (typeof part === 'object' && part !== null) {
      for (const [key, inner] of Object.entries(part))
        this.collect(inner, `${where}/${this.shown(key).replaceAll('~', '~0').replaceAll('/', '~1')}`, into);
      return;
    }
    const type = typeof part === 'string' && numberIn(part, 'number') === null ? 'text' : 'number';
    const text = this.shown(String(part)).slice(0, longestText);
    into.push({ where, text, number: numberIn(part, type), type });
  }
}

/** @throws DeviceError where the pointer is none */
function at(answer: unknown, where: string): unknown {
  if (where === '') return answer;
  if (typeof answer !== 'object' || answer === null) return undefined;
  try {
    return jsonpointer.get(answer, where);
  } catch {
    throw new DeviceError(`"${where}" is no path into the answer: write it like /stations/0/signal, or pick it.`);
  }
}
