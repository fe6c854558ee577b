import type { Place } from '@kivram/contract/entities/place';
import { NetworkBody } from '@kivram/contract/requests/job';
import { routes } from '@kivram/contract/routes';
import { check } from '@kivram/contract/validate';
import { spokenWord } from '@kivram/contract/storedWords';
import type { JobView } from '@kivram/contract/views/job';
import { Button, TextInput } from '@mantine/core';
import { useState } from 'react';
import { useParams } from 'react-router';
import { Clash } from '../drafts/Clash';
import { useDraft } from '../drafts/useDraft';
import { JobTabs } from '../job/JobTabs';
import { NumberField } from '../parts/NumberField';
import { PlainSelect } from '../parts/PlainSelect';
import { NotShown } from '../parts/NotShown';
import { Problem } from '../parts/Problem';
import { Told } from '../parts/Told';
import { useKeys } from '../parts/useKeys';
import { sendDraft, useChange, useJob, useJobMap, useMay } from '../queries';
import { DeviceRows } from './DeviceRows';
import { emptySubnet, formOf, readNetwork, type NetworkForm, type RowErrors, type SubnetForm } from './networkForm';
import './network.css';
import { Working } from '../parts/Only';

/** The network of a site: what comes in, its subnets, and who has which address already. */
export function NetworkScreen() {
  const { jobId = '' } = useParams();
  const job = useJob(jobId);
  const map = useJobMap(jobId);
  const error = (!job.data && job.error) || (!map.data && map.error);
  if (error) return <NotShown error={error} />;
  if (!job.data || !map.data) return <p className="soft">Reading the network</p>;
  return <NetworkForms job={job.data} places={map.data.places} />;
}

function NetworkForms({ job, places }: { job: JobView; places: Place[] }) {
  const { id: jobId, name } = job.job;
  const draft = useDraft(`job/${jobId}/network`, formOf(job), String(job.network?.version ?? 0));
  const save = useChange(routes.saveNetwork, { jobId });
  const [refused, setRefused] = useState<string | null>(null);
  const form = draft.value;
  const read = readNetwork(form);
  const change = (changes: Partial<NetworkForm>): void => draft.set((before) => ({ ...before, ...changes }));
  const may = useMay(jobId);
  const submit = (): void => {
    if (!draft.changed || draft.peeking || !may.work) return;
    const body = { ...read.body, version: Number(draft.base) };
    const { errors } = check(NetworkBody, body);
    const faults = read.faults ? 'Some rows are not right yet; each says why.' : null;
    setRefused(faults ?? (errors ? errors.map((e) => e.message).join('. ') : null));
    if (faults || errors) return;
    sendDraft(save, body, draft.send());
  };
  useKeys({ s: submit });
  if (may.onlyReads)
    return (
      <>
        <JobTabs jobId={jobId} name={name} customer={job.job.customer} />
        <ReadNetwork job={job} places={places} />
      </>
    );

  return (
    <>
      <JobTabs jobId={jobId} name={name} customer={job.job.customer} />
      <Clash draft={draft} what="The network" />
      <form
        onSubmit={(event) => {
          event.preventDefault();
          submit();
        }}
        noValidate
      >
        <fieldset disabled={draft.peeking || !may.work} className="network-fields">
          <section>
            <h2>What comes in</h2>
            <div className="row network-feed">
              <NumberField
                label="From the feed to the site"
                unit="Mbit/s"
                description="as the provider delivers it"
                value={form.feedDownMbps}
                onChange={(feedDownMbps) => change({ feedDownMbps })}
              />
              <NumberField
                label="From the site to the feed"
                unit="Mbit/s"
                description="often much less"
                value={form.feedUpMbps}
                onChange={(feedUpMbps) => change({ feedUpMbps })}
              />
              <label className="network-place">
                <span>It comes in at</span>
                <PlainSelect
                  aria-label="It comes in at"
                  options={[
                    { value: '', label: 'not known yet' },
                    ...places.filter((p) => p.kind === 'site').map((p) => ({ value: p.id, label: p.name })),
                  ]}
                  value={form.feedPlaceId}
                  onChoose={(feedPlaceId) => change({ feedPlaceId })}
                />
              </label>
            </div>
          </section>
          <section>
            <h2>Subnets</h2>
            <p className="note">Radios get their addresses in the first one, outside its DHCP ranges.</p>
            {form.subnets.map((subnet, index) => (
              <SubnetRow
                key={index}
                subnet={subnet}
                errors={read.subnets[index] ?? {}}
                first={index === 0}
                onChange={(changes) =>
                  change({ subnets: form.subnets.map((s, i) => (i === index ? { ...s, ...changes } : s)) })
                }
                onRemove={() => change({ subnets: form.subnets.filter((_, i) => i !== index) })}
                onFirst={() => change({ subnets: [subnet, ...form.subnets.filter((_, i) => i !== index)] })}
              />
            ))}
            <Button size="sm" variant="default" onClick={() => change({ subnets: [...form.subnets, emptySubnet] })}>
              {form.subnets.length ? 'Add another subnet' : 'Add the subnet'}
            </Button>
          </section>
          <DeviceRows
            devices={form.devices}
            errors={read.devices}
            jobName={name}
            onChange={(devices) => change({ devices })}
          />
        </fieldset>
        {read.warnings.map(({ reason }) => (
          <p key={reason} className="caution">
            {reason}
          </p>
        ))}
        <Problem error={refused && draft.changed ? new Error(refused) : null} />
        <Problem error={save.error} />
        <Working jobId={jobId}>
          <div className="row network-save">
            <Button type="submit" disabled={!draft.changed || draft.peeking} loading={save.isPending}>
              Save the network
            </Button>
            {draft.changed && (
              <Button variant="default" onClick={draft.drop}>
                Give up the changes
              </Button>
            )}
            <span className="note">
              {draft.changed ? 'Not saved yet; what is typed stays in this window.' : 'Saved.'}
            </span>
          </div>
        </Working>
      </form>
    </>
  );
}

/** The network for who changes nothing. */
function ReadNetwork({ job: { network, devices }, places }: { job: JobView; places: Place[] }) {
  const mbps = (rate: number | null | undefined): string | null => (rate ? `${rate} Mbit/s` : null);
  return (
    <>
      <h2>What comes in</h2>
      <Told
        rows={[
          ['From the feed to the site', mbps(network?.feedDownMbps) ?? 'not known yet'],
          ['From the site to the feed', mbps(network?.feedUpMbps) ?? 'not known yet'],
          ['It comes in at', places.find(({ id }) => id === network?.feedPlaceId)?.name ?? 'not known yet'],
        ]}
      />
      <h2>Subnets</h2>
      {(network?.subnets ?? []).map((subnet) => (
        <Told
          key={subnet.name}
          rows={[
            ['Called', subnet.name],
            ['Address and mask', `${subnet.address}/${subnet.prefix}`],
            ['Router', subnet.gateway],
            ['DHCP hands out', subnet.dhcp.map(({ first, last }) => `${first} to ${last}`).join(', ')],
          ]}
        />
      ))}
      {!network?.subnets.length && <p>None is noted yet.</p>}
      <h2>Known devices</h2>
      <Told
        rows={devices.map((device) => [
          device.name,
          [spokenWord(device.kind), device.address, device.mac].filter(Boolean).join(', '),
        ])}
      />
      {!devices.length && <p>None is noted yet.</p>}
    </>
  );
}

interface SubnetRowProps {
  subnet: SubnetForm;
  errors: RowErrors<SubnetForm>;
  first: boolean;
  onChange(changes: Partial<SubnetForm>): void;
  onRemove(): void;
  onFirst(): void;
}

function SubnetRow({ subnet, errors, first, onChange, onRemove, onFirst }: SubnetRowProps) {
  const field = (name: keyof SubnetForm, label: string, placeholder: string) => (
    <TextInput
      label={label}
      placeholder={placeholder}
      value={subnet[name]}
      error={errors[name]}
      onChange={(event) => onChange({ [name]: event.currentTarget.value })}
      classNames={name === 'name' ? {} : { input: 'field-number' }}
    />
  );
  return (
    <div className="network-subnet">
      {field('name', 'Called', 'site')}
      {field('block', 'Address and mask', '10.20.0.0/24')}
      {field('gateway', 'Router', '10.20.0.1')}
      {field('dhcp', 'DHCP hands out', '10.20.0.100 to 10.20.0.199')}
      <div className="row network-row-ends">
        {!first && (
          <Button size="sm" variant="default" onClick={onFirst}>
            Radios here
          </Button>
        )}
        <Button size="sm" variant="default" aria-label={`Remove the subnet ${subnet.name}`} onClick={onRemove}>
          Remove
        </Button>
      </div>
      {errors.row && <p className="problem network-row-error">{errors.row}</p>}
    </div>
  );
}
