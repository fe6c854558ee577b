import { ObstacleFields, type Obstacle } from '@kivram/contract/entities/obstacle';
import { ObstacleBody } from '@kivram/contract/requests/obstacle';
import { routes } from '@kivram/contract/routes';
import { check } from '@kivram/contract/validate';
import { obstacleKinds, type ObstacleKind } from '@kivram/core/path/obstacle';
import { obstacleRules } from '@kivram/core/path/obstacles';
import { Button, SegmentedControl, Select, TextInput } from '@mantine/core';
import { FormClash } from '../drafts/Clash';
import { useKeptForm } from '../drafts/useKeptForm';
import { Height } from '../parts/Figure';
import { newObstacle, type ObstacleFields as Fields } from './newObstacle';
import { numberIn, NumberField, type TypedNumber } from '../parts/NumberField';
import { Problem } from '../parts/Problem';
import { sendDraft, sendThen, useChange } from '../queries';
import { useSettings } from '../settings';
import { metresPerUnit, unitSuffix } from './ticks';

interface Values extends Record<string, unknown> {
  kind: ObstacleKind;
  name: string;
  height: TypedNumber;
  width: TypedNumber;
  growth: TypedNumber;
  measuredYear: TypedNumber;
  confidence: 'measured' | 'estimated';
  shape: 'line' | 'area';
}

interface Props {
  jobId: string;
  obstacle: Fields | Obstacle;
  done(): void;
}

/** One thing in the way: what, how high, how wide, how sure. */
export function ObstacleForm({ jobId, obstacle, done }: Props) {
  const { units } = useSettings();
  const perUnit = metresPerUnit(units);
  const metres = { unit: unitSuffix(units), perUnit, digits: 2 };
  const known = 'id' in obstacle;
  const create = useChange(routes.createObstacle, { jobId });
  const change = useChange(routes.changeObstacle, { obstacleId: known ? obstacle.id : '' });
  const form = useKeptForm<Values>(
    known ? `obstacle/${obstacle.id}` : `job/${jobId}/new-obstacle`,
    {
      kind: obstacle.kind,
      name: obstacle.name,
      height: obstacle.heightM,
      width: obstacle.widthM,
      growth: obstacle.growthMPerYear,
      measuredYear: obstacle.measuredYear,
      confidence: obstacle.confidence,
      shape: obstacle.isArea ? 'area' : 'line',
    },
    known ? String(obstacle.version) : '',
  );
  const { kind } = form.values;
  /** Three corners go round something. */
  const canBeArea = obstacle.footprint.length > 2;
  const isArea = (values: Values): boolean => canBeArea && values.kind !== 'water' && values.shape === 'area';
  const close = (): void => {
    form.forget();
    done();
  };
  const submit = form.onSubmit((values) => {
    const body = {
      name: values.name.trim(),
      kind: values.kind,
      footprint:
        values.kind === 'water'
          ? []
          : obstacle.footprint.map(({ latitudeDeg, longitudeDeg }) => ({ latitudeDeg, longitudeDeg })),
      isArea: isArea(values),
      widthM: values.kind === 'water' || isArea(values) ? 0 : numberIn(values.width),
      heightM: numberIn(values.height),
      growthMPerYear: values.kind === 'trees' ? numberIn(values.growth) : 0,
      measuredYear: numberIn(values.measuredYear),
      confidence: values.confidence,
      ...(known && { version: Number(form.base) }),
    };
    const fields: Record<string, string> = { heightM: 'height', widthM: 'width', growthMPerYear: 'growth' };
    const { errors = [] } = known ? check(ObstacleBody, body) : check(ObstacleFields, body);
    form.setErrors(Object.fromEntries(errors.map((e) => [fields[e.field] ?? e.field, e.message])));
    if (errors.length) return;
    if (known) sendDraft(change, body, form.send(close), true);
    else sendThen(create, body, close, close);
  });
  const chooseKind = (value: string | null): void => {
    if (!value) return;
    const usual = newObstacle(value as ObstacleKind, []);
    form.setValues({
      kind: usual.kind,
      height: usual.heightM,
      width: usual.widthM,
      growth: usual.growthMPerYear,
    });
  };
  return (
    <form onSubmit={submit} noValidate>
      <Select
        label="Kind"
        data={obstacleKinds
          .filter((k) => !known || (k === 'water') === (obstacle.kind === 'water'))
          .map((k) => ({ value: k, label: obstacleRules[k].words }))}
        allowDeselect={false}
        {...form.getInputProps('kind')}
        onChange={chooseKind}
      />
      <TextInput
        label="Name, as you would say it"
        placeholder="the poplars by the gate"
        {...form.getInputProps('name')}
      />
      {canBeArea && kind !== 'water' && (
        <SegmentedControl
          mt="xs"
          aria-label="What its corners are"
          data={[
            { value: 'line', label: 'a row along its corners' },
            { value: 'area', label: 'all that they go round' },
          ]}
          {...form.getInputProps('shape')}
        />
      )}
      <div className="row" style={{ alignItems: 'flex-start' }}>
        <NumberField
          label={kind === 'water' ? 'High water above sea level' : 'Height above ground'}
          w={190}
          {...metres}
          {...form.getInputProps('height')}
        />
        {kind !== 'water' && !isArea(form.values) && (
          <NumberField label="Width" w={150} {...metres} {...form.getInputProps('width')} />
        )}
      </div>
      {kind === 'trees' && (
        <div className="row" style={{ alignItems: 'flex-start' }}>
          <NumberField label="Grows a year" w={190} step={0.1} {...metres} {...form.getInputProps('growth')} />
          <NumberField label="Height is of the year" w={150} {...form.getInputProps('measuredYear')} />
        </div>
      )}
      <Select
        label="How sure"
        data={['measured', 'estimated']}
        allowDeselect={false}
        {...form.getInputProps('confidence')}
      />
      <FormClash
        form={form}
        saved={
          <>
            {obstacle.name || obstacleRules[obstacle.kind].words}, <Height metres={obstacle.heightM} /> high
          </>
        }
      />
      <Problem error={create.error ?? change.error} />
      <Button type="submit" mt="md" loading={create.isPending || change.isPending}>
        {known ? 'Save' : 'Note it'}
      </Button>
    </form>
  );
}
