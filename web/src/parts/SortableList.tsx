import {
  DndContext,
  KeyboardSensor,
  PointerSensor,
  closestCenter,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import { restrictToParentElement, restrictToVerticalAxis } from '@dnd-kit/modifiers';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';

/** An ordered list whose rows are moved by mouse or by keyboard; each row takes its handle from {@link useRow}. */
export function SortableList(props: {
  label: string;
  ids: string[];
  movable?: boolean;
  /** The row of the one id takes the place of the row of the other. */
  onMove: (id: string, onto: string) => void;
  className?: string;
  children: React.ReactNode;
}) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const ended = ({ active, over }: DragEndEvent) => {
    if (over && active.id !== over.id) props.onMove(String(active.id), String(over.id));
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      modifiers={[restrictToVerticalAxis, restrictToParentElement]}
      onDragEnd={ended}
    >
      <SortableContext items={props.ids} strategy={verticalListSortingStrategy} disabled={props.movable === false}>
        <ol className={props.className} aria-label={props.label}>
          {props.children}
        </ol>
      </SortableContext>
    </DndContext>
  );
}

/** What a row of a {@link SortableList} needs: on the row itself, and on the handle that it is held by. */
export function useRow(id: string, movable = true) {
  const sortable = useSortable({ id, disabled: !movable });
  return {
    row: {
      ref: sortable.setNodeRef,
      style: { transform: CSS.Translate.toString(sortable.transform), transition: sortable.transition },
    },
    handle: { ref: sortable.setActivatorNodeRef, ...sortable.listeners, ...sortable.attributes },
    dragging: sortable.isDragging,
  };
}
