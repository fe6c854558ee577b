import { LocalRuleFields, type LocalRule } from '@kivram/contract/entities/law';
import { routes } from '@kivram/contract/routes';
import { check } from '@kivram/contract/validate';
import { Switch, Textarea } from '@mantine/core';
import { FormClash } from '../drafts/Clash';
import { useKeptForm } from '../drafts/useKeptForm';
import { widthText } from '../parts/channelText';
import { NumberField } from '../parts/NumberField';
import { sendDraft, sendThen, useChange, useMay } from '../queries';
import { FormEnd, NotedList } from './NotedList';

/** Rules that stand in for the country's in this job, each with what it is founded on. */
export function LocalRules({ jobId, rules }: { jobId: string; rules: LocalRule[] }) {
  const may = useMay(jobId);
  return (
    <NotedList
      title="Noted for this job"
      empty="Nothing. Where a local rule or a licence for a band allows more or less than the rules below, the lead notes it here with its reason; it then stands in for them."
      items={rules}
      mayChange={may.lead}
      add="Note a rule"
      show={(rule) => (
        <>
          <span className="figure">
            {rule.lowestMHz} to {rule.highestMHz} MHz
          </span>
          , up to {rule.mostEirpDbm} dBm EIRP
          {rule.mostWidthMHz !== null && `, channels up to ${widthText(rule.mostWidthMHz)}`}
          {rule.radar && ', gives way to radar'}
          <p className="note">{rule.reason}</p>
        </>
      )}
      form={(rule, done) => <RuleForm jobId={jobId} rule={rule} done={done} />}
    />
  );
}

type Values = Record<Exclude<keyof LocalRuleFields, 'radar'>, string | number | null> & { radar: boolean };

const empty: Values = {
  lowestMHz: null,
  highestMHz: null,
  mostEirpDbm: null,
  mostWidthMHz: null,
  radar: false,
  reason: '',
};

function RuleForm({ jobId, rule, done }: { jobId: string; rule: LocalRule | null; done(): void }) {
  const create = useChange(routes.createLocalRule, { jobId });
  const change = useChange(routes.changeLocalRule, { localRuleId: rule?.id ?? '' });
  const remove = useChange(routes.removeLocalRule, { localRuleId: rule?.id ?? '' }, `?version=${rule?.version ?? 0}`);
  const { id, version, ...fields } = rule ?? { id: '', version: 0, ...empty };
  const form = useKeptForm<Values>(`job/${jobId}/local-rule/${id || 'new'}`, fields, rule ? String(version) : '');
  const finish = (): void => {
    form.forget();
    done();
  };
  const submit = form.onSubmit((values) => {
    const body = { ...values, reason: String(values.reason).trim() };
    const { errors } = check(LocalRuleFields, body);
    if (errors) return form.setErrors(Object.fromEntries(errors.map((e) => [e.field, e.message])));
    if (rule) sendDraft(change, { ...body, version: Number(form.base) }, form.send(finish));
    else sendThen(create, body, finish);
  });
  return (
    <form onSubmit={submit} noValidate className="law-form">
      {rule && <FormClash form={form} saved={`${rule.lowestMHz} to ${rule.highestMHz} MHz, ${rule.mostEirpDbm} dBm`} />}
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
