import 'reflect-metadata';
import { IsString, MaxLength } from 'class-validator';
import { Count, Nested, Text } from '../decorators';
import { SpecFields } from '../entities/spec';

/** A new spec sheet; its identifier is made from maker and name. */
export class NewModelBody {
  @Nested(() => SpecFields) spec!: SpecFields;
}

/** A spec sheet as it is to be: a new revision. */
export class ModelBody {
  /** the revision that was changed */
  @Count(1) revision!: number;
  @Nested(() => SpecFields) spec!: SpecFields;
}

/** A file of spec sheets, as Kivram exports them. */
export class ImportModelsBody {
  @Text(1, 200) fileName!: string;
  @IsString() @MaxLength(5_000_000) text!: string;
}
