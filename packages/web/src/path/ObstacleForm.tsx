import { check, ObstacleFields, ObstacleBody, routes, type Obstacle } from '@kivram/contract';
import { obstacleKinds, obstacleRules, type ObstacleKind, type Position } from '@kivram/core';
import { Button, NumberInput, Select, TextInput } from '@mantine/core';
import { useForm } from '@mantine/form';
import { Problem } from '../parts/Problem';
import { sendThen, useChange } from '../queries';
import { useSettings } from '../settings';
import { metresPerUnit, unitSuffix } from './ticks';

type Fields = Omit<Obstacle, 'id' | 'version'>;

interface Values {
  kind: ObstacleKind;
  name: string;
  height: number | string;
  width: number | string;
  growth: number | string;
  measuredYear: number | string;
  confidence: 'measured' | 'estimated';
}

/** A new obstacle as its kind usually is. */
export function newObstacle(kind: ObstacleKind, footprint: Position[]): Fields {
  const rules = obstacleRules[kind];
  return {
    name: '',
    kind,
    footprint,
    heightM: rules.usualHeightM,
    widthM: rules.usualWidthM,
    growthMPerYear: rules.usualGrowthMPerYear,
    measuredYear: new Date().getFullYear(),
    confidence: 'estimated',
  };
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
  const unit = unitSuffix(units);
  const known = 'id' in obstacle;
  const create = useChange(routes.createObstacle, { jobId });
  const change = useChange(routes.changeObstacle, { obstacleId: known ? obstacle.id : '' });
  const shown = (m: number): number => Number((m / perUnit).toFixed(2));
  const form = useForm<Values>({
    initialValues: {
      kind: obstacle.kind,
      name: obstacle.name,
      height: shown(obstacle.heightM),
      width: shown(obstacle.widthM),
      growth: shown(obstacle.growthMPerYear),
      measuredYear: obstacle.measuredYear,
      confidence: obstacle.confidence,
    },
  });
  const { kind } = form.values;
  const metres = (value: number | string): number => (value === '' ? NaN : Number(value) * perUnit);
  const submit = form.onSubmit((values) => {
    const body = {
      name: values.name.trim(),
      kind: values.kind,
      footprint:
        values.kind === 'water'
          ? []
          : obstacle.footprint.map(({ latitudeDeg, longitudeDeg }) => ({ latitudeDeg, longitudeDeg })),
      widthM: values.kind === 'water' ? 0 : metres(values.width),
      heightM: metres(values.height),
      growthMPerYear: values.kind === 'trees' ? metres(values.growth) : 0,
      measuredYear: Number(values.measuredYear),
      confidence: values.confidence,
      ...(known && { version: obstacle.version }),
    };
    const fields: Record<string, string> = { heightM: 'height', widthM: 'width', growthMPerYear: 'growth' };
    const { errors = [] } = known ? check(ObstacleBody, body) : check(ObstacleFields, body);
    form.setErrors(Object.fromEntries(errors.map((e) => [fields[e.field] ?? e.field, e.message])));
    if (errors.length) return;
    sendThen(known ? change : create, body, done);
  });
  const chooseKind = (value: string | null): void => {
    if (!value) return;
    const usual = newObstacle(value as ObstacleKind, []);
    form.setValues({
      kind: usual.kind,
      height: shown(usual.heightM),
      width: shown(usual.widthM),
      growth: shown(usual.growthMPerYear),
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
      <div className="row" style={{ alignItems: 'flex-start' }}>
        <NumberInput
          label={kind === 'water' ? 'High water above sea level' : 'Height above ground'}
          suffix={unit}
          w={190}
          {...form.getInputProps('height')}
        />
        {kind !== 'water' && (
          <NumberInput label="Width" suffix={unit} w={150} min={0} {...form.getInputProps('width')} />
        )}
      </div>
      {kind === 'trees' && (
        <div className="row" style={{ alignItems: 'flex-start' }}>
          <NumberInput
            label="Grows a year"
            suffix={unit}
            w={190}
            min={0}
            step={0.1}
            {...form.getInputProps('growth')}
          />
          <NumberInput label="Height is of the year" w={150} {...form.getInputProps('measuredYear')} />
        </div>
      )}
      <Select
        label="How sure"
        data={['measured', 'estimated']}
        allowDeselect={false}
        {...form.getInputProps('confidence')}
      />
      <Problem error={create.error ?? change.error} />
      <Button type="submit" mt="md" loading={create.isPending || change.isPending}>
        {known ? 'Save' : 'Note it'}
      </Button>
    </form>
  );
}
