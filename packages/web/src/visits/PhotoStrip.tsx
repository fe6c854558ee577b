import type { PhotoSubject } from '@kivram/contract/entities/visit';
import { photoHeadBytes, refusePhoto } from '@kivram/contract/photoKinds';
import { routes } from '@kivram/contract/routes';
import { photoLimits } from '@kivram/contract/views/visit';
import { dateText } from '@kivram/core/units/moment';
import { Button, Modal, TextInput } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import { sendFile } from '../api';
import { newId } from '../changeId';
import { KeptError, sendOrKeep } from '../outbox/outbox';
import { Problem } from '../parts/Problem';
import { Tick } from '../parts/Tick';
import { sendThen, useChange, useFollow, useMay, useSession } from '../queries';
import { useVisits, type ShownPhoto } from './useVisits';
import './visits.css';

interface Props {
  jobId: string;
  of: PhotoSubject;
  id: string;
  /** what the photos are of, as people call it */
  name: string;
}

/** The photos of one thing, and taking another one. */
export function PhotoStrip({ jobId, of, id, name }: Props) {
  const { shown } = useVisits(jobId);
  const may = useMay(jobId);
  const [open, setOpen] = useState<ShownPhoto | null>(null);
  const photos = shown.photos.filter((photo) => photo[`${of}Id`] === id);
  return (
    <div className="photos">
      {photos.map((photo) => (
        <button
          key={photo.id}
          type="button"
          className="photo"
          aria-label={`Photo of ${name}: ${lineOf(photo)}`}
          onClick={() => setOpen(photo)}
        >
          <Picture photo={photo} size="small" alt="" />
          <span className="note">{lineOf(photo)}</span>
        </button>
      ))}
      {may.work && <AddPhoto jobId={jobId} of={of} id={id} name={name} />}
      {open && <PhotoDialog photo={open} name={name} mayChange={may.work} onClose={() => setOpen(null)} />}
    </div>
  );
}

/** What stands under a photo. */
function lineOf({ caption, takenAt, addedAt, file }: ShownPhoto): string {
  return `${caption || dateText(takenAt ?? addedAt)}${file ? ', waits' : ''}`;
}

function Picture({ photo, size, alt }: { photo: ShownPhoto; size: 'small' | 'full'; alt: string }) {
  const { file } = photo;
  const local = useMemo(() => file && URL.createObjectURL(file), [file]);
  useEffect(() => () => void (local && URL.revokeObjectURL(local)), [local]);
  return <img src={local ?? `/api/photos/${photo.id}/${size}.jpg`} alt={alt} />;
}

function PhotoDialog({
  photo,
  name,
  mayChange,
  onClose,
}: {
  photo: ShownPhoto;
  name: string;
  mayChange: boolean;
  onClose(): void;
}) {
  const [caption, setCaption] = useState(photo.caption);
  const change = useChange(routes.changePhoto, { photoId: photo.id });
  const remove = useChange(routes.removePhoto, { photoId: photo.id }, `?version=${photo.version}`);
  const there = photo.latitudeDeg !== null && photo.longitudeDeg !== null;
  return (
    <Modal opened onClose={onClose} size="xl" title={`Photo of ${name}`}>
      <div className="photo-full">
        <Picture photo={photo} size="full" alt={photo.caption || `Photo of ${name}`} />
      </div>
      <p className="note">
        {photo.takenAt ? `Taken ${dateText(photo.takenAt)}` : `Added ${dateText(photo.addedAt)}`}
        {there && `, at ${photo.latitudeDeg?.toFixed(5)}, ${photo.longitudeDeg?.toFixed(5)}`}
        {photo.file && '. It waits on this device to be sent.'}
      </p>
      {mayChange && !photo.file ? (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            sendThen(change, { version: photo.version, caption: caption.trim() }, onClose, onClose);
          }}
        >
          <TextInput
            label="A line about it"
            maxLength={300}
            value={caption}
            onChange={(event) => setCaption(event.currentTarget.value)}
          />
          <Problem error={change.error ?? remove.error} />
          <div className="row" style={{ marginTop: 10 }}>
            <Button type="submit" disabled={caption.trim() === photo.caption} loading={change.isPending}>
              Save the line
            </Button>
            <Button variant="default" loading={remove.isPending} onClick={() => sendThen(remove, undefined, onClose)}>
              Remove the photo
            </Button>
          </div>
        </form>
      ) : (
        photo.caption && <p>{photo.caption}</p>
      )}
    </Modal>
  );
}

/** What was chosen and is not sent yet. */
interface Chosen {
  file: File;
  caption: string;
  keepPosition: boolean;
}

function AddPhoto({ jobId, of, id, name }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const follow = useFollow();
  const by = useSession().data?.person?.name ?? null;
  const add = useMutation({
    mutationFn: async ({ file, caption, keepPosition }: Chosen) => {
      // Said where it is chosen: a file that waits on a roof should not be refused in the evening.
      const refusal = refusePhoto(new Uint8Array(await file.slice(0, photoHeadBytes).arrayBuffer()));
      if (refusal) throw new Error(refusal);
      if (file.size > photoLimits.megabytes * 1024 * 1024)
        throw new Error(
          `${file.name} has ${Math.round(file.size / 1e6)} MB; up to ${photoLimits.megabytes} MB can be read.`,
        );
      const query = `?${new URLSearchParams({ of, id, caption: caption.trim(), ...(keepPosition && { position: 'keep' }) }).toString()}`;
      const change = { id: newId(), by, route: 'addPhoto' as const, params: { jobId }, query, body: undefined, file };
      return sendOrKeep(change, () => sendFile(routes.addPhoto, file, query, { jobId }, change.id));
    },
    onSuccess: (answer) => {
      setChosen(null);
      return follow([{ route: 'addPhoto', params: { jobId }, answer }]);
    },
    onError: (error) => error instanceof KeptError && setChosen(null),
  });
  return (
    <div>
      <input
        ref={input}
        type="file"
        hidden
        accept="image/jpeg,image/png,image/webp,image/heic,image/heif"
        aria-label={`Photo file of ${name}`}
        onChange={(event) => {
          const file = event.currentTarget.files?.[0];
          if (file) setChosen({ file, caption: '', keepPosition: false });
          add.reset();
          event.currentTarget.value = '';
        }}
      />
      <Button variant="default" aria-label={`Add a photo of ${name}`} onClick={() => input.current?.click()}>
        Add a photo
      </Button>
      <Problem error={chosen ? null : add.error} />
      {chosen && (
        <Modal opened onClose={() => setChosen(null)} title={`Photo of ${name}`}>
          <TextInput
            label="A line about it"
            data-autofocus
            maxLength={300}
            value={chosen.caption}
            onChange={(event) => setChosen({ ...chosen, caption: event.currentTarget.value })}
          />
          <Tick
            label="Keep where it was taken; otherwise that is removed"
            checked={chosen.keepPosition}
            set={(keepPosition) => setChosen({ ...chosen, keepPosition })}
          />
          <Problem error={add.error} />
          <Button mt="md" loading={add.isPending} onClick={() => add.mutate(chosen)}>
            Add it
          </Button>
        </Modal>
      )}
    </div>
  );
}
