import clsx from 'clsx';

export type PictureValue = { sha256: string; media: string; alt?: string };

/** Whether a value is a picture that is there. */
export const isPicture = (value: unknown): value is PictureValue =>
  typeof value === 'object' && value !== null && 'sha256' in value;

/** A value that is a picture, drawn; nothing for values of other types. */
export function Picture({ value, className }: { value: unknown; className?: string }) {
  if (!isPicture(value)) return null;
  return (
    <img
      className={clsx('border-line bg-sheet block h-12 max-w-40 border object-contain', className)}
      src={`/api/v1/pictures/${value.sha256}`}
      alt={value.alt ? value.alt : 'A picture without a description'}
    />
  );
}
