import { Dialog } from 'radix-ui';
import { useEffect, useState } from 'react';

const KEYS = [
  ['/', 'ask anything: “mirela private chat”'],
  ['?', 'show these keys'],
  ['g l', 'go to the Ladder'],
  ['g s', 'go to the Matrix'],
  ['g p', 'go to the Policies'],
  ['g d', 'go to the Directory'],
  ['g b', 'go to the Logbook'],
  ['↑ ↓', 'move in a list or on the ladder'],
  ['Enter', 'open what is stood on'],
  ['Space', 'open or close a row of the Matrix'],
  ['a…z 0…9', 'on a cell of the Matrix: type its value; Enter stages it'],
  ['Delete', 'on a cell of the Matrix: say nothing there any more; Enter stages it'],
  ['r', 'read the draft over'],
  ['Ctrl Z', 'undo in the draft; with Shift, redo'],
  ['Alt ↑ ↓', 'move a policy in the ranking'],
  ['Esc', 'in a filter or on the Matrix: show all again; else close what is open, and what was typed stays'],
];

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
export function KeyboardShortcuts() {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    let afterG = false;
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event)) return;
      const go = (name: string) =>
        document.querySelector<HTMLElement>(`nav[aria-label="Views"] a[href^="/${name}"]`)?.click();
      if (event.key === '?') setOpen(true);
      else if (afterG && event.key === 'l') go('ladder');
      else if (afterG && event.key === 's') go('spread');
      else if (afterG && event.key === 'd') go('directory');
      else if (afterG && event.key === 'p') go('policies');
      else if (afterG && event.key === 'b') go('logbook');
      afterG = event.key === 'g';
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
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
            {KEYS.map(([key, what]) => (
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
