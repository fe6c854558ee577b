import 'reflect-metadata';
import { IsInt, Matches, Min } from 'class-validator';
import { Text } from '../decorators';

/** With what one logs in to a radio's own page. */
export class LoginBody {
  /** the version that was changed; -1 where there was none */
  @IsInt() @Min(-1) version!: number;
  @Text(1, 60) userName!: string;
  @Text(1, 100)
  @Matches(/^[^•]/, { message: 'password must be written out' })
  password!: string;
}
