import 'reflect-metadata';
import {
  angleSources,
  markKinds,
  type AngleSource,
  type MarkKind,
  type MountAxis,
  type Turning,
} from '@kivram/core/aiming/reading';
import { ends, type End } from '@kivram/core/budget/plan';
import { IsBoolean, IsIn, IsOptional, IsUUID, ValidateIf } from 'class-validator';
import { Between, OneOf } from '../decorators';

/** One end is up. The cautions must have been read first. */
export class MountBody {
  @OneOf(ends) end!: End;
  @IsBoolean() mounted!: boolean;
  @IsIn([true], { message: 'read the cautions first, then confirm them' }) cautionsRead!: boolean;
}

/** What the real radios did on the table. */
export class ToldPairingBody {
  @IsBoolean() linked!: boolean;
}

export class NewAlignmentBody {
  @OneOf(angleSources) nearSource!: AngleSource;
  @OneOf(angleSources) farSource!: AngleSource;
  @OneOf(['endByEnd', 'axisByAxis']) order!: 'endByEnd' | 'axisByAxis';
}

/** Something the installer did, tapped in the aim view, at the end where it was done. The server stamps the time; the id makes a repeated tap one tap. */
export class MarkBody {
  @IsUUID() id!: string;
  @OneOf(ends) end!: End;
  @OneOf(markKinds) kind!: MarkKind;
  @ValidateIf((mark: MarkBody) => mark.kind === 'turning' || mark.kind === 'notch')
  @IsIn([-1, 0, 1], { message: 'direction must be -1, 0 or 1' })
  direction?: Turning;
}

/** Ends an alignment. Where an end was not heard that is asked about first; `silent`: it is meant. */
export class FinishBody {
  @IsOptional() @IsBoolean() silent?: boolean;
}

/** Who has an alignment open, and where they are. */
export class PresenceBody {
  /** made by the page when it was opened */
  @IsUUID() device!: string;
  /** null for who only looks on */
  @IsOptional() @OneOf(ends) end!: End | null;
}

/** The installer's hands on a stand-in mount. */
export class TurnBody {
  @OneOf(ends) end!: End;
  @OneOf(['azimuth', 'tilt']) axis!: MountAxis;
  @Between(-20, 20, 'degrees') byDeg!: number;
}

export class TightenBody {
  @OneOf(ends) end!: End;
}
