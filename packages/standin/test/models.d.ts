import type { Model } from '@kivram/core/gear/model';
import type { RuleSet } from '@kivram/core/spectrum/ruleSet';
/** Spec sheets for tests: invented, with round figures. */
export declare function testModel(changes?: Partial<Model>): Model;
/** Two made-up countries: codes of the range that ISO 3166 leaves to users. */
export declare const testLaw: readonly RuleSet[];
