import { DndContext, pointerWithin, PointerSensor, useDraggable, useDroppable, useSensor, useSensors } from "@dnd-kit/core";
import type { ReactNode } from "react";

/** How far a pointer goes before a press is a pull, px: less is a tap with an unsteady hand. */
const pullFrom = 8;

/** Blocks that are pulled along time and from lane to lane. What a pull did is told by the block, the lane it was let go
 *  over (none where there is none), and how far it went along, px. By keyboard each board has keys of its own. */
export function Pulls({ onPull, children }: { onPull: (id: string, lane: string | undefined, by: number) => void; children: ReactNode }) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: pullFrom } }));
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      autoScroll={false}
      onDragEnd={({ active, over, delta }) => onPull(String(active.id), over ? String(over.id) : undefined, delta.x)}
    >
      {children}
    </DndContext>
  );
}

/** What a block needs to be pulled: where it stands while it is, and what listens to the pointer. */
export function usePull(id: string, fixed: boolean) {
  const { setNodeRef, listeners, transform, isDragging } = useDraggable({ id, disabled: fixed });
  return {
    ref: setNodeRef,
    onPointerDown: listeners?.onPointerDown as React.PointerEventHandler<HTMLElement> | undefined,
    pulled: isDragging,
    transform: transform ? `translate(${transform.x}px, ${transform.y}px)` : undefined,
  };
}

/** A lane that blocks are pulled to. */
export const useLane = (id: string, closed: boolean) => useDroppable({ id, disabled: closed }).setNodeRef;
