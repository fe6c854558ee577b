import 'reflect-metadata';
import { Text } from '../decorators';

/** A key that is brought back: its 24 words, or the line of its file. */
export class KeyBody {
  @Text(1, 1000) text!: string;
}
