import {
  airProblem,
  channelNumber,
  eirpLimitDbm,
  judgePath,
  lawOf,
  tryPredict,
  usableCentresMHz,
  type Air,
  type Model,
  type RadioPlan,
  type RuleSet,
} from '@kivram/core';
import { NewLinkBody, check, routes, type Obstacle, type Place } from '@kivram/contract';
import { Button, NumberInput, Select, Switch, TextInput } from '@mantine/core';
import { useForm, type UseFormReturnType } from '@mantine/form';
import { useMemo } from 'react';
import { useNavigate, useParams } from 'react-router';
import { protocolWords, widthText } from '../parts/channelText';
import { Figure, Length } from '../parts/Figure';
import { Problem } from '../parts/Problem';
import { Rate } from '../parts/Rate';
import { useChange, useJob, useJobMap, useModels, useProfile, useRuleSets } from '../queries';
import { metresPerUnit, unitSuffix } from '../path/ticks';
import { useSettings } from '../settings';
import { typedPosition } from './typedPosition';

interface EndForm {
  placeId: string;
  name: string;
  latitude: string;
  longitude: string;
  groundHeightM: number | string;
  modelId: string;
  mountHeightM: number | string;
  conductedDbm: number | string;
}

interface LinkForm {
  name: string;
  pathKind: 'outdoor' | 'shaft';
  shaftLeastM: number | string;
  shaftMostM: number | string;
  near: EndForm;
  far: EndForm;
  widthMHz: string;
  centreMHz: number | string;
  /** licensed pairs: what the far end sends on */
  returnMHz: number | string;
  errorCorrection: boolean;
  protocol: '802.11' | 'slots';
  needNearToFarMbps: number | string;
  needFarToNearMbps: number | string;
}

const emptyEnd: EndForm = {
  placeId: '',
  name: '',
  latitude: '',
  longitude: '',
  groundHeightM: '',
  modelId: '',
  mountHeightM: 6,
  conductedDbm: 10,
};

/** A new link from two places and two models; the prediction appears as soon as there is enough to compute it. */
export function NewLinkScreen() {
  const { jobId = '' } = useParams();
  const job = useJob(jobId);
  const map = useJobMap(jobId);
  const models = useModels();
  const laws = useRuleSets();
  const navigate = useNavigate();
  const { units } = useSettings();
  const unit = unitSuffix(units);
  const create = useChange(routes.createLink, { jobId });
  const form = useForm<LinkForm>({
    initialValues: {
      name: '',
      pathKind: 'outdoor',
      shaftLeastM: 5,
      shaftMostM: 30,
      near: emptyEnd,
      far: emptyEnd,
      widthMHz: '',
      centreMHz: '',
      returnMHz: '',
      errorCorrection: false,
      protocol: '802.11',
      needNearToFarMbps: 50,
      needFarToNearMbps: 20,
    },
  });

  const near = models.data?.find((m) => m.id === form.values.near.modelId);
  const far = models.data?.find((m) => m.id === form.values.far.modelId);
  const country = job.data?.job.country ?? '';
  const law = lawOf(laws.data ?? [], country) ?? null;
  const licensed = near?.band === 'licensed';
  const places = map.data?.places ?? [];
  const spoken = near && far ? near.protocols.filter((p) => far.protocols.includes(p)) : [];
  const widths = near && far ? near.widthsMHz.filter((w) => far.widthsMHz.includes(w)) : [];
  const width = Number(form.values.widthMHz);
  const centres = near && far && width ? usableCentresMHz(near, far, law, width) : [];

  const submit = (): void => {
    const { body, errors } = toBody(form.values, licensed, metresPerUnit(units));
    const checked = check(NewLinkBody, body);
    const all = {
      ...Object.fromEntries((checked.errors ?? []).map((e) => [toFormField(e.field), e.message])),
      ...errors,
    };
    form.setErrors(all);
    if (Object.keys(all).length) return;
    create.mutate(body, { onSuccess: (view) => void navigate(`/links/${view.link.id}/path`) });
  };

  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
      noValidate
    >
      <h1 style={{ marginBottom: 16 }}>A new link</h1>
      <div className="row" style={{ alignItems: 'flex-start', marginBottom: 16 }}>
        <TextInput label="Name of the link" w={420} {...form.getInputProps('name')} />
        <Select
          label="Path"
          data={[
            { value: 'outdoor', label: 'over the ground' },
            { value: 'shaft', label: 'up a shaft, moving car' },
          ]}
          allowDeselect={false}
          {...form.getInputProps('pathKind')}
        />
        {form.values.pathKind === 'shaft' && (
          <>
            <NumberInput label="Antennas closest" suffix={unit} w={150} {...form.getInputProps('shaftLeastM')} />
            <NumberInput label="Antennas farthest" suffix={unit} w={150} {...form.getInputProps('shaftMostM')} />
          </>
        )}
      </div>
      <div className="columns">
        <EndFields end="near" form={form} places={places} models={models.data ?? []} />
        <EndFields end="far" form={form} places={places} models={models.data ?? []} />
      </div>
      <h2 style={{ marginTop: 24 }}>Air</h2>
      <div className="row" style={{ alignItems: 'flex-start' }}>
        <Select
          label="Channel width"
          data={widths.map((w) => ({ value: String(w), label: widthText(w) }))}
          disabled={!widths.length}
          description={near && far && !widths.length ? 'These models share no width' : 'of both models'}
          {...form.getInputProps('widthMHz')}
        />
        {licensed ? (
          <>
            <NumberInput
              label="Near end sends on"
              suffix=" MHz"
              decimalScale={5}
              description="from the licence"
              {...form.getInputProps('centreMHz')}
            />
            <NumberInput
              label="Far end sends on"
              suffix=" MHz"
              decimalScale={5}
              description="from the licence"
              {...form.getInputProps('returnMHz')}
            />
            <Switch label="Error correction" mt={34} {...form.getInputProps('errorCorrection', { type: 'checkbox' })} />
          </>
        ) : (
          <Select
            label="Channel"
            data={centres.map((c) => ({ value: String(c), label: channelLabel(law, c, width) }))}
            disabled={!centres.length}
            description={width && !centres.length ? 'None is allowed for both' : `allowed in ${law?.name ?? country}`}
            w={280}
            {...form.getInputProps('centreMHz')}
          />
        )}
        <Select
          label="Protocol"
          data={spoken.map((p) => ({ value: p, label: protocolWords[p] }))}
          description="spoken by both"
          allowDeselect={false}
          {...form.getInputProps('protocol')}
        />
        <NumberInput
          label="Needed near to far"
          suffix=" Mbit/s"
          min={0}
          description="what must cross"
          {...form.getInputProps('needNearToFarMbps')}
        />
        <NumberInput
          label="Needed far to near"
          suffix=" Mbit/s"
          min={0}
          description="what must cross"
          {...form.getInputProps('needFarToNearMbps')}
        />
      </div>
      <Preview
        form={form.values}
        near={near}
        far={far}
        places={places}
        obstacles={map.data?.obstacles ?? []}
        law={law}
      />
      <Problem error={create.error} />
      <Button type="submit" loading={create.isPending} mt="md" size="lg">
        Plan this link
      </Button>
    </form>
  );
}

interface EndFieldsProps {
  end: 'near' | 'far';
  form: UseFormReturnType<LinkForm>;
  places: Place[];
  models: Model[];
}

function EndFields({ end, form, places, models }: EndFieldsProps) {
  const unit = unitSuffix(useSettings().units);
  const values = form.values[end];
  const model = models.find((m) => m.id === values.modelId);
  const field = (name: keyof EndForm) => form.getInputProps(`${end}.${name}`);
  return (
    <fieldset style={{ border: 0, padding: 0, margin: 0, minWidth: 0 }}>
      <legend
        className={end}
        style={{ fontWeight: 600, borderBottom: '3px solid currentColor', width: '100%', marginBottom: 8 }}
      >
        {end === 'near' ? 'Near end, with the feed' : 'Far end'}
      </legend>
      <Select
        label="Place"
        data={[{ value: '', label: 'a new place' }, ...places.map((p) => ({ value: p.id, label: p.name }))]}
        allowDeselect={false}
        searchable
        {...field('placeId')}
      />
      {!values.placeId && (
        <>
          <TextInput label="Name of the place" {...field('name')} />
          <div className="row" style={{ alignItems: 'flex-start' }}>
            <TextInput
              label="Latitude"
              placeholder={'33.41200 or 33°24\'43.2"N'}
              description="or the whole position, also as UTM"
              flex={1}
              {...field('latitude')}
            />
            <TextInput
              label="Longitude"
              placeholder={'-37.84060 or 37°50\'26.2"W'}
              description="empty when it stands on the left"
              flex={1}
              {...field('longitude')}
            />
          </div>
          <NumberInput
            label="Ground above sea level"
            description="empty: as the terrain says"
            suffix={unit}
            {...field('groundHeightM')}
          />
        </>
      )}
      <Select
        label="Model"
        data={models.map((m) => ({ value: m.id, label: `${m.maker} ${m.name}, ${m.band}, ${m.antennaGainDbi} dBi` }))}
        searchable
        {...field('modelId')}
      />
      <div className="row" style={{ alignItems: 'flex-start' }}>
        <NumberInput label="Mounted above ground" suffix={unit} min={0} flex={1} {...field('mountHeightM')} />
        <NumberInput
          label="Conducted power"
          suffix=" dBm"
          flex={1}
          min={model?.leastConductedDbm}
          max={model?.mostConductedDbm}
          clampBehavior="none"
          {...field('conductedDbm')}
        />
      </div>
      {model && (
        <p className="note">
          {model.maker} {model.name}: beam {model.beamWidth.azimuthDeg}° wide, {model.ethernetMbps} Mbit/s port,{' '}
          {model.poe}, {model.leastConductedDbm} to {model.mostConductedDbm} dBm
        </p>
      )}
    </fieldset>
  );
}

interface PreviewProps {
  form: LinkForm;
  near: Model | undefined;
  far: Model | undefined;
  places: Place[];
  obstacles: Obstacle[];
  law: RuleSet | null;
}

/** What the link will do, while it is typed. */
function Preview({ form, near, far, places, obstacles, law }: PreviewProps) {
  const { units } = useSettings();
  const perUnit = metresPerUnit(units);
  const a = positionOf(form.near, places, perUnit);
  const b = positionOf(form.far, places, perUnit);
  const ground = useProfile(a, b);
  const prediction = useMemo(() => {
    const air = airOf(form, near?.band === 'licensed');
    if (!a || !b || !near || !far || !air.centreMHz || !air.widthMHz || airProblem(air)) return null;
    const end = (
      e: EndForm,
      position: Pick<Place, 'latitudeDeg' | 'longitudeDeg' | 'groundHeightM'>,
      model: Model,
      terrainM: number | null | undefined,
      role: RadioPlan['role'],
    ): RadioPlan => ({
      position,
      groundHeightM: e.placeId || e.groundHeightM !== '' ? position.groundHeightM : (terrainM ?? 0),
      mountHeightM: Number(e.mountHeightM) * perUnit,
      model,
      conductedDbm: Number(e.conductedDbm),
      cableLossDb: 0,
      role,
      azimuthDeg: null,
      tiltDeg: null,
    });
    return tryPredict({
      near: end(form.near, a, near, ground?.groundM[0], 'access'),
      far: end(form.far, b, far, ground?.groundM.at(-1), 'station'),
      air,
      law,
      terrain: ground && { profile: ground, obstacles, year: new Date().getFullYear() },
      shaft:
        form.pathKind === 'shaft'
          ? { leastM: Number(form.shaftLeastM) * perUnit, mostM: Number(form.shaftMostM) * perUnit }
          : null,
    }).prediction;
  }, [form, near, far, a, b, law, ground, obstacles, perUnit]);
  if (!prediction)
    return <p className="note">The prediction appears here once both places, both models and the channel are set.</p>;
  return (
    <p>
      <Length metres={prediction.distanceM} /> apart. Level near <Figure value={prediction.near.rslDbm} unit="dBm" />,
      far <Figure value={prediction.far.rslDbm} unit="dBm" />, margin{' '}
      <Figure value={Math.min(prediction.near.marginDb, prediction.far.marginDb)} unit="dB" signed />. TCP alone{' '}
      <Rate mbps={prediction.nearToFar.aloneMbps} /> near to far.{' '}
      {prediction.path && <strong>{judgePath(prediction.path, units).headline}.</strong>}
    </p>
  );
}

/** The air that the form describes. */
function airOf(form: LinkForm, licensed: boolean): Air {
  return {
    kind: licensed ? 'duplex' : 'pair',
    centreMHz: Number(form.centreMHz),
    returnMHz: licensed && form.returnMHz !== '' ? Number(form.returnMHz) : null,
    widthMHz: Number(form.widthMHz),
    protocol: form.protocol,
    errorCorrection: licensed && form.errorCorrection,
  };
}

function channelLabel(law: RuleSet | null, centreMHz: number, widthMHz: number): string {
  const channel = { centreMHz, widthMHz };
  const limit = eirpLimitDbm(law, channel);
  return `${channelNumber(channel)}, ${centreMHz} MHz, up to ${limit ?? 0} dBm EIRP`;
}

function positionOf(
  end: EndForm,
  places: Place[],
  perUnit: number,
): Pick<Place, 'latitudeDeg' | 'longitudeDeg' | 'groundHeightM'> | null {
  const known = places.find((p) => p.id === end.placeId);
  if (known) return known;
  const { position } = typedPosition(end.latitude, end.longitude);
  return position && { ...position, groundHeightM: Number(end.groundHeightM) * perUnit || 0 };
}

/** The form as the request the contract knows, and what could not be read. */
function toBody(form: LinkForm, licensed: boolean, perUnit: number): { body: object; errors: Record<string, string> } {
  const errors: Record<string, string> = {};
  const end = (key: 'near' | 'far'): object => {
    const e = form[key];
    const common = {
      modelId: e.modelId,
      mountHeightM: asNumber(e.mountHeightM) * perUnit,
      conductedDbm: asNumber(e.conductedDbm),
    };
    if (!e.modelId) errors[`${key}.modelId`] = 'Choose a model';
    if (e.placeId) return { placeId: e.placeId, ...common };
    const typed = typedPosition(e.latitude, e.longitude);
    for (const [axis, message] of Object.entries(typed.errors)) errors[`${key}.${axis}`] = message;
    if (!e.name.trim()) errors[`${key}.name`] = 'The place needs a name';
    return {
      place: {
        name: e.name.trim(),
        // Where it could not be read, its own words above keep the form from being sent.
        ...(typed.position ?? { latitudeDeg: 0, longitudeDeg: 0 }),
        ...(e.groundHeightM !== '' && { groundHeightM: Number(e.groundHeightM) * perUnit }),
      },
      ...common,
    };
  };
  if (!form.widthMHz) errors.widthMHz = 'Choose a width';
  if (!form.centreMHz) errors.centreMHz = licensed ? 'Type the frequency of the licence' : 'Choose a channel';
  if (!form.name.trim()) errors.name = 'The link needs a name';
  const body = {
    name: form.name.trim(),
    ...(form.pathKind === 'shaft' && {
      pathKind: form.pathKind,
      shaftLeastM: asNumber(form.shaftLeastM) * perUnit,
      shaftMostM: asNumber(form.shaftMostM) * perUnit,
    }),
    near: end('near'),
    far: end('far'),
    centreMHz: Number(form.centreMHz),
    ...(licensed && { returnMHz: asNumber(form.returnMHz), errorCorrection: form.errorCorrection }),
    widthMHz: Number(form.widthMHz),
    protocol: form.protocol,
    needNearToFarMbps: asNumber(form.needNearToFarMbps),
    needFarToNearMbps: asNumber(form.needFarToNearMbps),
  };
  return { body, errors };
}

/** A number field that is empty is no zero. */
function asNumber(value: number | string): number {
  return value === '' ? NaN : Number(value);
}

/** Where the form shows an error of the contract: a new place's fields lie one level higher. */
function toFormField(field: string): string {
  return field.replace('.place.', '.').replace('latitudeDeg', 'latitude').replace('longitudeDeg', 'longitude');
}
