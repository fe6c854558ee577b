import 'reflect-metadata';
import { IsBase64, MaxLength } from 'class-validator';
import { Photo } from '../entities/visit';

/** A photo with its picture: JPEG in base64. */
export class PhotoRecord extends Photo {
  @IsBase64() @MaxLength(8_000_000) jpeg!: string;
}
