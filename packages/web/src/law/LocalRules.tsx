import { LocalRuleFields, type LocalRule } from '@kivram/contract/entities/law';
import { routes } from '@kivram/contract/routes';
import { check } from '@kivram/contract/validate';
import { dateText, localDay } from '@kivram/core/units/moment';
import type { State } from '@kivram/core/verdict/verdict';
import { SegmentedControl, Switch, Textarea, TextInput } from '@mantine/core';
import { FormClash } from '../drafts/Clash';
import { useKeptForm } from '../drafts/useKeptForm';
import { widthText } from '../parts/channelText';
import { NumberField } from '../parts/NumberField';
import { StateMark } from '../parts/StateMark';
import { sendDraft, sendThen, useChange, useMay } from '../queries';
import { FormEnd, NotedList } from './NotedList';

/** What restricts this job, and what an authority permits in it, each with what it is founded on. */
export function LocalRules({ jobId, rules }: { jobId: string; rules: LocalRule[] }) {
  const may = useMay(jobId);
  return (
    <NotedList
      title="Noted for this job"
      empty="Nothing. Where less is allowed here than by the rules below, or an authority permits more, the lead notes it with its reason. What restricts holds whatever else is allowed; what permits says until when."
      items={rules}
      mayChange={may.lead}
      add="Note a rule"
      show={(rule) => (
        <>
          <strong>{rule.permitUntil === null ? 'Restricts' : 'Permits'}</strong>{' '}
          <span className="figure">
            {rule.lowestMHz} to {rule.highestMHz} MHz
          </span>
          , up to {rule.mostEirpDbm} dBm EIRP
          {rule.mostWidthMHz !== null && `, channels up to ${widthText(rule.mostWidthMHz)}`}
          {rule.radar && ', gives way to radar'}
          {rule.permitUntil !== null && (
            <>
              , {rule.permitsOutdoors ? 'outdoors too' : 'indoors only'}
              <br />
              <StateMark {...permitState(rule.permitUntil)} />
            </>
          )}
          <p className="note">{rule.reason}</p>
        </>
      )}
      form={(rule, done) => <RuleForm jobId={jobId} rule={rule} done={done} />}
    />
  );
}

function permitState(until: string): { state: State; because: string } {
  const isOver = until < localDay(new Date());
  return { state: isOver ? 'fails' : 'holds', because: `${isOver ? 'ended on' : 'until'} ${dateText(until)}` };
}

type Flag = 'radar' | 'permits' | 'permitsOutdoors';
/** As it is typed: the last day stays there while it is tried as a restriction. */
type Values = Record<Exclude<keyof LocalRuleFields, Flag>, string | number | null> & Record<Flag, boolean>;

const empty: Values = {
  lowestMHz: null,
  highestMHz: null,
  mostEirpDbm: null,
  mostWidthMHz: null,
  radar: false,
  reason: '',
  permits: false,
  permitUntil: '',
  permitsOutdoors: false,
};

function typedPermit({ permitUntil }: LocalRule): Pick<Values, 'permits' | 'permitUntil'> {
  return { permits: permitUntil !== null, permitUntil: permitUntil ?? '' };
}

function RuleForm({ jobId, rule, done }: { jobId: string; rule: LocalRule | null; done(): void }) {
  const create = useChange(routes.createLocalRule, { jobId });
  const change = useChange(routes.changeLocalRule, { localRuleId: rule?.id ?? '' });
  const remove = useChange(routes.removeLocalRule, { localRuleId: rule?.id ?? '' }, `?version=${rule?.version ?? 0}`);
  const { id, version, ...fields } = rule ? { ...rule, ...typedPermit(rule) } : { id: '', version: 0, ...empty };
  const form = useKeptForm<Values>(`job/${jobId}/local-rule/${id || 'new'}`, fields, rule ? String(version) : '');
  const { permits } = form.values;
  const finish = (): void => {
    form.forget();
    done();
  };
  const submit = form.onSubmit(({ permits: isPermit, permitUntil, permitsOutdoors, ...values }) => {
    const body = {
      ...values,
      reason: String(values.reason).trim(),
      permitUntil: isPermit ? permitUntil : null,
      permitsOutdoors: isPermit && permitsOutdoors,
    };
    const { errors } = check(LocalRuleFields, body);
    if (errors) return form.setErrors(Object.fromEntries(errors.map((e) => [e.field, e.message])));
    if (rule) sendDraft(change, { ...body, version: Number(form.base) }, form.send(finish));
    else sendThen(create, body, finish);
  });
  return (
    <form onSubmit={submit} noValidate className="law-form">
      {rule && <FormClash form={form} saved={`${rule.lowestMHz} to ${rule.highestMHz} MHz, ${rule.mostEirpDbm} dBm`} />}
      <SegmentedControl
        aria-label="What the rule does"
        data={[
          { value: 'restricts', label: 'It restricts' },
          { value: 'permits', label: 'It permits' },
        ]}
        value={permits ? 'permits' : 'restricts'}
        onChange={(kind) => form.setFieldValue('permits', kind === 'permits')}
      />
      <p className="note">
        {permits
          ? 'What an authority allows this job beside the rules of the country, until a day.'
          : 'Less than the country allows. It holds wherever a channel reaches into it, for whatever else is allowed.'}
      </p>
      <div className="row">
        <NumberField label="From" unit="MHz" w={150} {...form.getInputProps('lowestMHz')} />
        <NumberField label="To" unit="MHz" w={150} {...form.getInputProps('highestMHz')} />
        <NumberField label="EIRP at most" unit="dBm" w={150} {...form.getInputProps('mostEirpDbm')} />
        <NumberField label="Widest channel" unit="MHz" w={150} {...form.getInputProps('mostWidthMHz')} />
        <Switch
          label="Gives way to radar"
          mt={30}
          checked={form.values.radar}
          onChange={(event) => form.setFieldValue('radar', event.currentTarget.checked)}
        />
        {permits && (
          <>
            <Switch
              label="Outdoors too"
              mt={30}
              checked={form.values.permitsOutdoors}
              onChange={(event) => form.setFieldValue('permitsOutdoors', event.currentTarget.checked)}
            />
            <TextInput label="Last day" type="date" w={170} {...form.getInputProps('permitUntil')} />
          </>
        )}
      </div>
      <Textarea
        label="What it is founded on"
        description="Which authority, which paper, which number, since when"
        autosize
        minRows={2}
        maxLength={500}
        {...form.getInputProps('reason')}
      />
      <FormEnd
        save="Save the rule"
        saving={[create, change]}
        removal={rule && { change: remove, run: () => sendThen(remove, undefined, finish) }}
        leave={finish}
      />
    </form>
  );
}
