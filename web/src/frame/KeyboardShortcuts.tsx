import { Dialog } from 'radix-ui';
import { useEffect, useState } from 'react';
import type { NavigationEntry } from './NavRail';

const KEYS: [string, string][] = [
  ['/', 'ask anything: “mirela private chat”'],
  ['?', 'show these keys'],
  ['↑ ↓', 'move in a list or on the ladder'],
  ['Enter', 'open what is stood on'],
  ['Space', 'open or close a row of the Matrix'],
  ['a…z 0…9', 'on a cell of the Matrix: type its value; Enter adds it to the draft'],
  ['Delete', 'on a cell of the Matrix: stop setting it there; Enter adds it to the draft'],
  ['r', 'review the draft'],
  ['Ctrl Z', 'undo in the draft; with Shift, redo'],
  ['Alt ↑ ↓', 'move a policy in the ranking'],
  ['Esc', 'in a filter or on the Matrix: show all again; else close what is open, and what was typed stays'],
];

const SHOW = 'show-keys';

/** Opens the list of keys, from wherever a button for it stands. */
export function showKeys(): void {
  window.dispatchEvent(new Event(SHOW));
}

/** Whether a key belongs to what is being typed, or was taken by what has the focus. */
export function isTyping(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement | null;
  return (
    event.defaultPrevented ||
    event.ctrlKey ||
    event.metaKey ||
    (target?.matches('input, textarea, select, [contenteditable]') ?? false)
  );
}

/** The keys of the whole application, and the list of them. */
export function KeyboardShortcuts({ views }: { views: NavigationEntry[] }) {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    let afterG = false;
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event)) return;
      const view = afterG && views.find(({ key }) => key === event.key);
      if (event.key === '?') setOpen(true);
      else if (view) document.querySelector<HTMLElement>(`nav[aria-label="Views"] a[href^="/${view.path}"]`)?.click();
      afterG = event.key === 'g';
    };
    const show = () => setOpen(true);
    window.addEventListener('keydown', onKey);
    window.addEventListener(SHOW, show);
    return () => {
      window.removeEventListener('keydown', onKey);
      window.removeEventListener(SHOW, show);
    };
  }, [views]);
  const leads = views.map(({ name, key }): [string, string] => [`g ${key}`, `go to ${name}`]);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/30" />
        <Dialog.Content
          aria-describedby={undefined}
          className="bg-sheet text-ink border-line2 fixed top-20 right-4 z-50 w-96 rounded border p-5 shadow-lg"
        >
          <Dialog.Title className="font-display mb-3 text-lg font-semibold">Keys</Dialog.Title>
          <dl className="grid grid-cols-[auto_1fr] items-baseline gap-x-4 gap-y-2">
            {[...KEYS.slice(0, 2), ...leads, ...KEYS.slice(2)].map(([key, what]) => (
              <div key={key} className="contents">
                <dt>
                  <kbd className="border-line2 bg-well rounded border px-1.5 py-0.5 font-sans text-[13px]">{key}</kbd>
                </dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
          <Dialog.Close className="button mt-4">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
