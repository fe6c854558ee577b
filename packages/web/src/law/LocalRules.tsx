import { check, LocalRuleFields, routes, type LocalRule } from '@kivram/contract';
import { Button, Switch, Textarea } from '@mantine/core';
import { useState } from 'react';
import { FormClash } from '../drafts/Clash';
import { useKeptForm } from '../drafts/useKeptForm';
import { widthText } from '../parts/channelText';
import { NumberField } from '../parts/NumberField';
import { Leading } from '../parts/Only';
import { Problem } from '../parts/Problem';
import { sendThen, useChange, useMay } from '../queries';

/** Rules that stand in for the country's in this job, each with what it is founded on. */
export function LocalRules({ jobId, rules }: { jobId: string; rules: LocalRule[] }) {
  const [open, setOpen] = useState<string | null>(null);
  const may = useMay(jobId);
  return (
    <section>
      <h2>Noted for this job</h2>
      {!rules.length && (
        <p>
          Nothing. Where a local rule or a licence for a band allows more or less than the rules below, the lead notes
          it here with its reason; it then stands in for them.
        </p>
      )}
      <ul className="law-list">
        {rules.map((rule) => (
          <li key={rule.id}>
            <div>
              <span className="figure">
                {rule.lowestMHz} to {rule.highestMHz} MHz
              </span>
              , up to {rule.mostEirpDbm} dBm EIRP
              {rule.mostWidthMHz !== null && `, channels up to ${widthText(rule.mostWidthMHz)}`}
              {rule.radar && ', gives way to radar'}
              <p className="note">{rule.reason}</p>
            </div>
            {may.lead && (
              <Button
                size="compact-sm"
                variant="default"
                onClick={() => setOpen(open === rule.id ? null : rule.id)}
                aria-expanded={open === rule.id}
              >
                Change
              </Button>
            )}
            {open === rule.id && <RuleForm jobId={jobId} rule={rule} done={() => setOpen(null)} />}
          </li>
        ))}
      </ul>
      <Leading jobId={jobId}>
        {open === 'new' ? (
          <RuleForm jobId={jobId} rule={null} done={() => setOpen(null)} />
        ) : (
          <Button variant="default" onClick={() => setOpen('new')}>
            Note a rule
          </Button>
        )}
      </Leading>
    </section>
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
    if (rule) sendThen(change, { ...body, version: Number(form.base) }, finish);
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
      <Problem error={create.error ?? change.error ?? remove.error} />
      <div className="row">
        <Button type="submit" loading={create.isPending || change.isPending}>
          Save the rule
        </Button>
        <Button variant="default" onClick={finish}>
          Leave it
        </Button>
        {rule && (
          <Button
            variant="subtle"
            color="red"
            loading={remove.isPending}
            onClick={() => sendThen(remove, undefined, finish)}
          >
            Take it away
          </Button>
        )}
      </div>
    </form>
  );
}
