import { LevelProfileBody, LevelSourceBody } from '@kivram/contract/requests/level';
import { routes } from '@kivram/contract/routes';
import { check } from '@kivram/contract/validate';
import type { DeviceAnswer, LevelSourceView } from '@kivram/contract/views/level';
import type { LinkView } from '@kivram/contract/views/link';
import { levelWays, levelWayWords, type LevelWay } from '@kivram/core/aiming/levelWay';
import type { End } from '@kivram/core/budget/plan';
import { Button, Modal, Select, TextInput } from '@mantine/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { call, ProblemError } from '../api';
import { newId } from '../changeId';
import { useDraft } from '../drafts/useDraft';
import { Problem } from '../parts/Problem';
import { useFiles } from '../parts/useFiles';
import { sendThen, useChange, useSession } from '../queries';
import { AccessFields } from './AccessFields';
import './levels.css';
import { draftOfProfile, newProfile, profileBody, type ProfileDraft } from './profileDraft';
import { ProfileFields } from './ProfileFields';
import { bodyOf, draftOf, isAskedWay, wrongLight, type SourceDraft, type TypedSecrets } from './sourceDraft';

interface Props {
  view: LinkView;
  end: End;
  source: LevelSourceView;
  onClose(): void;
}

/** Where the level of one end comes from: chosen, reached, looked through, picked, and used from then on. */
export function SourceModal({ view, end, source, onClose }: Props) {
  const linkId = view.link.id;
  const isHere = useSession().data?.isHere ?? false;
  const queries = useQueryClient();
  const kept = useDraft<SourceDraft>(
    `link/${linkId}/aim/level/${end}`,
    draftOf(source, view[end].sheet?.sheet.address ?? ''),
    String(source.version),
  );
  const draft = kept.value;
  const set = (change: Partial<SourceDraft>): void => {
    setWrong(null);
    kept.set((before) => ({ ...before, ...change }));
  };
  // Never kept as a draft: what is typed here is in no browser's storage.
  const [secrets, setSecrets] = useState<TypedSecrets>({});
  const [outside, setOutside] = useState<string | null>(source.outsideAddress);
  const [answer, setAnswer] = useState<DeviceAnswer | null>(null);
  const [branch, setBranch] = useState('');
  const [wrong, setWrong] = useState<Error | null>(null);
  const keptProfile = useDraft<ProfileDraft | null>(`link/${linkId}/aim/profile/${end}`, null, '');
  const profile = keptProfile.value;
  const setProfile = (next: ProfileDraft | null): void => keptProfile.set(() => next);
  const profiles = useQuery({ queryKey: ['level-profiles'], queryFn: () => call(routes.levelProfiles) });
  const save = useChange(routes.saveLevelSource, { linkId, end });
  const saveProfile = useChange(routes.saveLevelProfile, { profileId: profile?.id ?? '' });
  const ask = useChange(routes.askDevice, { linkId, end });

  const { way } = draft;
  const isAsked = isAskedWay(way);
  const profileWay = way === 'snmp' ? 'snmp' : 'json';
  const fitting = (profiles.data ?? []).filter((p) => p.way === profileWay);
  const chosen = fitting.find(({ id }) => id === draft.profileId);
  const body = (profileId = draft.profileId): LevelSourceBody =>
    bodyOf({ ...draft, profileId }, secrets, Number(kept.base), outside);
  /** What only a person can confirm, as the server names it. */
  const toConfirm = (wanted: string): string | undefined =>
    [ask.error, save.error].flatMap((error) =>
      error instanceof ProblemError
        ? (error.problem.errors ?? []).filter(({ field }) => field === wanted).map(({ message }) => message)
        : [],
    )[0];
  const outsideError = toConfirm('outsideAddress');
  const certificateError = toConfirm('certificate');

  const lookThrough = (): void => {
    // Before a profile is there any stands for it: nothing is read by it yet.
    const branchMeant = way === 'snmp' && branch.trim();
    const asked = { source: body(draft.profileId ?? newId()), ...(branchMeant && { branch: branchMeant }) };
    const error = check(LevelSourceBody, asked.source).errors?.[0];
    setWrong(error ? new Error(error.message) : null);
    if (error) return;
    sendThen(ask, asked, (found) => {
      setAnswer(found);
      if (!profile) setProfile(chosen ? draftOfProfile(chosen) : newProfile(newId(), profileWay));
    });
  };
  const use = (): void => {
    if (profile && isAsked) {
      const error = check(LevelProfileBody, profileBody(profile)).errors?.[0];
      setWrong(error ? new Error(error.message) : null);
      if (error) return;
      sendThen(saveProfile, profileBody(profile), ({ id, version }) => {
        setProfile({ ...profile, version });
        void queries.invalidateQueries({ queryKey: ['level-profiles'] });
        store(id);
      });
    } else store(draft.profileId);
  };
  const store = (profileId: string | null): void => {
    const error =
      (way === 'typed' && wrongLight(draft.lights)) || check(LevelSourceBody, body(profileId)).errors?.[0]?.message;
    setWrong(error ? new Error(error) : null);
    if (error) return;
    sendThen(save, body(profileId), () => {
      kept.drop();
      keptProfile.drop();
      onClose();
    });
  };
  /** The stand-in radio of this end answers as a real one would, at an address of this computer. */
  const borrow = async (): Promise<void> => {
    const standins = new Map(fitting.map((p) => [p.way, p.id]));
    if (way === 'http') {
      const url = `${window.location.origin}/api/standin/links/${linkId}/radios/${end}`;
      return set({ url, profileId: draft.profileId ?? standins.get('json') ?? null });
    }
    const agent = await call(routes.standinAgent, { linkId, end });
    const known = await queries.fetchQuery({ queryKey: ['level-profiles'], queryFn: () => call(routes.levelProfiles) });
    setSecrets({ community: agent.community, authPassword: agent.authPassword, privPassword: agent.privPassword });
    const profileId = draft.profileId ?? known.find((p) => p.way === 'snmp')?.id ?? null;
    set({ host: agent.host, port: agent.port, userName: agent.userName, profileId });
  };

  return (
    <Modal
      opened
      onClose={onClose}
      size="xl"
      title={`Where the level of the ${end} end comes from: ${view[end].place.name}`}
    >
      <div className="levels-form" style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 14 }}>
        <Select
          label="The level is told by"
          data={levelWays
            .filter((value) => value !== 'command' || isHere || way === 'command')
            // Nothing of the stand-ins on a real job, but to see what stood there.
            .filter((value) => value !== 'standin' || view.practice || source.way === 'standin')
            .map((value) => ({ value, label: levelWayWords[value] }))}
          value={way}
          // What is being saved is answered first: forgotten, its answer would be lost.
          disabled={save.isPending || saveProfile.isPending}
          onChange={(value) => {
            if (!value) return;
            set({ way: value as LevelWay, profileId: null });
            setAnswer(null);
            setProfile(null);
            // What was wrong with the former way is not wrong with this one.
            setWrong(null);
            for (const asked of [ask, save, saveProfile]) asked.reset();
          }}
          allowDeselect={false}
          maw={340}
        />
        <AccessFields
          draft={draft}
          set={set}
          secrets={secrets}
          setSecret={(name, value) => setSecrets((before) => ({ ...before, [name]: value }))}
          stored={source}
          isHere={isHere}
        />
        {isAsked && (
          <>
            {view.practice && way !== 'command' && (way === 'snmp' || isHere) && (
              <p className="note">
                No radio at hand?{' '}
                <button
                  type="button"
                  className="linklike"
                  onClick={() => void borrow().catch((error: unknown) => setWrong(error as Error))}
                >
                  Let the stand-in radio of this end answer
                </button>
              </p>
            )}
            <div className="row" style={{ alignItems: 'end' }}>
              <Select
                label="What is read of it: profile"
                placeholder={fitting.length ? 'choose one' : 'none yet: look through its answers'}
                data={fitting.map(({ id, name }) => ({ value: id, label: name }))}
                value={chosen?.id ?? null}
                onChange={(profileId) => {
                  set({ profileId });
                  setProfile(null);
                }}
                clearable
                allowDeselect={false}
                w={300}
              />
              <Button variant="default" onClick={lookThrough} loading={ask.isPending}>
                Look through its answers
              </Button>
              {chosen && !profile && (
                <Button variant="subtle" onClick={() => setProfile(draftOfProfile(chosen))}>
                  Change the profile
                </Button>
              )}
              {!chosen && !profile && (
                <Button variant="subtle" onClick={() => setProfile(newProfile(newId(), profileWay))}>
                  Type a new one
                </Button>
              )}
            </div>
            {way === 'snmp' && (
              <TextInput
                label="Branch to walk (all, if left empty)"
                placeholder="1.3.6.1"
                value={branch}
                onChange={(event) => setBranch(event.currentTarget.value)}
                maw={300}
                autoComplete="off"
              />
            )}
            {profile && <ProfileFields draft={profile} set={setProfile} answer={answer} />}
            {profile && chosen && chosen.used > 1 && (
              <p className="note">{chosen.used} ends are read by this profile: they all follow.</p>
            )}
            <ProfileFiles />
          </>
        )}
        <Problem error={wrong ?? ask.error ?? saveProfile.error ?? save.error ?? profiles.error} />
        {outsideError && (
          <Button variant="default" onClick={() => setOutside(outsideError)} disabled={outside === outsideError}>
            {outside === outsideError ? 'Confirmed: try again' : `${outsideError} is meant: send there`}
          </Button>
        )}
        {certificateError && (
          <Button
            variant="default"
            onClick={() => set({ certificate: certificateError })}
            disabled={draft.certificate === certificateError}
          >
            {draft.certificate === certificateError
              ? 'Confirmed: try again, with the password if it wants one'
              : "It is this radio's certificate"}
          </Button>
        )}
        <div className="row">
          <Button onClick={use} loading={save.isPending || saveProfile.isPending}>
            {profile && isAsked ? 'Save the profile and read by it' : 'Read by this'}
          </Button>
          <Button variant="default" onClick={onClose}>
            Not now
          </Button>
        </div>
      </div>
    </Modal>
  );
}

/** Profiles of other computers come in as a file, and those of this one go out. */
function ProfileFiles() {
  const queries = useQueryClient();
  const { drop, results } = useFiles({ characters: 1_000_000, mend: 'Bring it in pieces.' }, async ({ text }) => {
    const read = await call(routes.importLevelProfiles, {}, { text });
    void queries.invalidateQueries({ queryKey: ['level-profiles'] });
    return read;
  });
  return (
    <div {...drop.getRootProps()}>
      <input {...drop.getInputProps({ 'aria-label': 'Files of profiles' })} />
      <p className="note">
        Profiles of kinds of radio:{' '}
        <button type="button" className="linklike" onClick={drop.open}>
          read a file
        </button>{' '}
        or <a href={routes.exportLevelProfiles.path}>write all to a file</a>
      </p>
      {results.map(({ name, read, error }) => (
        <p key={name} className={error ? 'problem' : 'note'} role="status">
          {error ??
            [
              read?.taken.length ? `Taken: ${read.taken.join(', ')}.` : 'Nothing was taken.',
              ...(read?.refused ?? []).map((one) => `${one.name}: ${one.reasons.join('; ')}.`),
            ].join(' ')}
        </p>
      ))}
    </div>
  );
}
