import { useMutation } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { api, problemOf, unwrap } from '../api/client';
import { Alert } from './Alert';
import { isPicture, Picture } from './Picture';

const TYPES = 'image/png,image/jpeg,image/webp,image/svg+xml';

/** A picture as a value: chosen, dropped or pasted; its content is stored first, and the value names it. */
export function PictureControl(props: { title: string; value: unknown; onChange: (value: unknown) => void }) {
  const { title, value } = props;
  const chooser = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const picture = isPicture(value) ? value : undefined;
  const upload = useMutation({
    mutationFn: (file: Blob) =>
      unwrap(
        api.POST('/api/v1/pictures', {
          // The content is sent as it is.
          body: file as unknown as string,
          bodySerializer: (content: unknown) => content as Blob,
          headers: { 'Content-Type': 'application/octet-stream' },
        }),
      ),
    onSuccess: (stored) => props.onChange({ sha256: stored.sha256, media: stored.media, alt: picture?.alt ?? '' }),
  });
  const take = (files: FileList | undefined) => {
    const file = files?.[0];
    if (file) upload.mutate(file);
    return file !== undefined;
  };
  return (
    <div
      role="group"
      aria-label={`Value of ${title}`}
      className={`grid w-72 gap-1 border border-dashed p-2 ${over ? 'border-draft bg-well' : 'border-line2'}`}
      onPaste={(e) => take(e.clipboardData.files) && e.preventDefault()}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        take(e.dataTransfer.files);
      }}
    >
      <Picture value={value} className="h-20 max-w-full" />
      <span className="flex items-center gap-2">
        <button type="button" className="button" onClick={() => chooser.current?.click()}>
          {picture ? 'Choose another…' : 'Choose a picture…'}
        </button>
        {picture && (
          <button type="button" className="quiet text-[13px]" onClick={() => props.onChange(null)}>
            Remove
          </button>
        )}
        <input
          ref={chooser}
          type="file"
          accept={TYPES}
          className="sr-only"
          tabIndex={-1}
          aria-label={`File for ${title}`}
          onChange={(e) => {
            take(e.target.files ?? undefined);
            e.target.value = '';
          }}
        />
      </span>
      {picture ? (
        <label className="grid gap-0.5">
          <span className="text-ink2 text-[13px]">What it shows, for those who cannot see it</span>
          <input
            className="field w-full"
            value={picture.alt ?? ''}
            onChange={(e) => props.onChange({ ...picture, alt: e.target.value })}
          />
        </label>
      ) : (
        <span className="text-ink2 text-[13px]">
          Or drop or paste one here. PNG, JPEG, WebP or SVG, at most 256 KB.
        </span>
      )}
      {upload.isPending && <span className="text-ink2 text-[13px]">Storing the picture…</span>}
      <Alert>{problemOf(upload.error)}</Alert>
    </div>
  );
}
