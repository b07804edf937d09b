import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { SortableContext, sortableKeyboardCoordinates, useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { AlertTriangle, GripVertical, OctagonX, Repeat } from "lucide-react";
import { type ClipboardEvent, type KeyboardEvent, useEffect, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { inputLook } from "../kit/kit";
import { moved, nudged } from "./moves";
import { blankStep, freeId, type Procedure, type Stage, type Step } from "./words";

type Mistake = Schemas["Mistake"];

/** Stages and steps in the order of the work: drag, or Alt and an arrow key. */
export function Outline({
  doc,
  selected,
  onSelect,
  change,
  mistakes,
  applies,
  yard,
}: {
  doc: Procedure;
  selected: string;
  onSelect: (id: string) => void;
  change: (make: (p: Procedure) => Procedure) => void;
  mistakes: Mistake[];
  applies: Record<string, number>;
  yard: number;
}) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  // A step moved into another stage is drawn anew: the keyboard goes with it.
  const follow = useRef("");
  const list = useRef<HTMLElement>(null);
  useEffect(() => {
    if (follow.current) list.current?.querySelector<HTMLElement>(`[data-step="${follow.current}"]`)?.focus();
    follow.current = "";
  }, [doc]);
  const nudge = (id: string, by: 1 | -1) => {
    follow.current = id;
    change((p) => nudged(p, id, by));
  };
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const id = String(active.id);
    const target = String(over.id);
    change((p) => {
      if (p.stages.some((s) => `stage:${s.id}` === target)) return moved(p, id, { stage: target.slice(6) });
      const order = p.stages.flatMap((s) => s.steps.map((x) => x.id));
      const stage = p.stages.find((s) => s.steps.some((x) => x.id === target));
      if (order.indexOf(id) > order.indexOf(target)) return moved(p, id, { before: target });
      const after = stage?.steps[stage.steps.findIndex((x) => x.id === target) + 1];
      return after ? moved(p, id, { before: after.id }) : moved(p, id, { stage: stage?.id ?? "" });
    });
  };
  return (
    <nav ref={list} aria-label="Steps" className="rounded-2xl border border-line bg-paper p-2">
      <button
        type="button"
        onClick={() => onSelect("")}
        aria-pressed={selected === ""}
        className={`min-h-hit w-full rounded-lg px-2 text-left font-bold ${selected === "" ? "bg-tide-wash" : "hover:bg-chalk"}`}
      >
        The procedure itself
        <Mark mistakes={mistakes.filter((m) => !m.step)} />
      </button>
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
        {doc.stages.map((stage) => (
          <StageBox
            key={stage.id}
            stage={stage}
            selected={selected}
            onSelect={onSelect}
            change={change}
            nudge={nudge}
            mistakes={mistakes}
            applies={applies}
            yard={yard}
          />
        ))}
      </DndContext>
    </nav>
  );
}

function StageBox({
  stage,
  selected,
  onSelect,
  change,
  nudge,
  mistakes,
  applies,
  yard,
}: {
  stage: Stage;
  selected: string;
  onSelect: (id: string) => void;
  change: (make: (p: Procedure) => Procedure) => void;
  nudge: (id: string, by: 1 | -1) => void;
  mistakes: Mistake[];
  applies: Record<string, number>;
  yard: number;
}) {
  const { setNodeRef, isOver } = useDroppable({ id: `stage:${stage.id}` });
  return (
    <section ref={setNodeRef} className={`mt-1.5 rounded-lg ${isOver ? "bg-tide-wash" : ""}`}>
      <h2 className="px-2 text-sm font-bold text-faded">{stage.title}</h2>
      <SortableContext items={stage.steps.map((s) => s.id)} strategy={verticalListSortingStrategy}>
        <ol>
          {stage.steps.map((s) => (
            <StepRow
              key={s.id}
              step={s}
              active={s.id === selected}
              onSelect={() => onSelect(s.id)}
              onNudge={(by) => nudge(s.id, by)}
              mistakes={mistakes.filter((m) => m.step === s.id)}
              applies={applies[s.id] ?? 0}
              yard={yard}
            />
          ))}
        </ol>
      </SortableContext>
      <QuickInsert stage={stage} change={change} onSelect={onSelect} />
    </section>
  );
}

function StepRow({
  step,
  active,
  onSelect,
  onNudge,
  mistakes,
  applies,
  yard,
}: {
  step: Step;
  active: boolean;
  onSelect: () => void;
  onNudge: (by: 1 | -1) => void;
  mistakes: Mistake[];
  applies: number;
  yard: number;
}) {
  const { setNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({ id: step.id });
  const keys = (e: KeyboardEvent) => {
    if (e.altKey && (e.key === "ArrowUp" || e.key === "ArrowDown")) {
      e.preventDefault();
      onNudge(e.key === "ArrowUp" ? -1 : 1);
    }
  };
  return (
    <li
      ref={setNodeRef}
      style={{ transform: transform ? `translate3d(0, ${transform.y}px, 0)` : undefined, transition }}
      className={`flex items-center rounded-lg ${active ? "bg-tide-wash" : "hover:bg-chalk"} ${isDragging ? "relative z-10 opacity-80 shadow-lg" : ""}`}
    >
      <button
        type="button"
        aria-label={`Move ${step.title}`}
        className="grid h-9 w-[28px] shrink-0 cursor-grab touch-none place-items-center text-faded"
        {...attributes}
        {...listeners}
      >
        <GripVertical size={15} aria-hidden />
      </button>
      <button
        type="button"
        data-step={step.id}
        onClick={onSelect}
        onKeyDown={keys}
        aria-pressed={active}
        className="min-h-hit min-w-0 grow py-1 text-left leading-tight"
      >
        {step.round && <Repeat size={13} className="mr-1 inline align-[-1px] text-faded" aria-label="in a round:" />}
        {step.title || "(no title)"}
        <Mark mistakes={mistakes} />
        {yard > 0 && applies < yard && (
          <span className="block text-xs text-faded">
            {applies} of {yard} in the yard
          </span>
        )}
      </button>
    </li>
  );
}

function Mark({ mistakes }: { mistakes: Mistake[] }) {
  const open = mistakes.filter((m) => !m.waived);
  if (open.length === 0) return null;
  const bad = open.some((m) => m.severity === "error");
  const Icon = bad ? OctagonX : AlertTriangle;
  return (
    <Icon
      size={15}
      className={`ml-1.5 inline align-[-2px] ${bad ? "text-rust" : "text-amber-ink"}`}
      aria-label={bad ? "has an error" : "has a warning"}
    />
  );
}

/** A step by typing a line; several by pasting lines. */
function QuickInsert({
  stage,
  change,
  onSelect,
}: {
  stage: Stage;
  change: (make: (p: Procedure) => Procedure) => void;
  onSelect: (id: string) => void;
}) {
  const [line, setLine] = useState("");
  const add = (titles: string[]) => {
    const last = { id: "" };
    change((p) => {
      let next = p;
      for (const title of titles) {
        const step = blankStep(freeId(next, title), title, stage.steps.at(-1));
        last.id = step.id;
        next = { ...next, stages: next.stages.map((s) => (s.id === stage.id ? { ...s, steps: [...s.steps, step] } : s)) };
      }
      return next;
    });
    if (last.id) onSelect(last.id);
    setLine("");
  };
  const lines = (text: string) =>
    text
      .split(/\r?\n/)
      .map((x) => x.replace(/^\s*(?:[-*•]|\d+[.)])\s*/, "").trim())
      .filter(Boolean);
  const paste = (e: ClipboardEvent) => {
    const many = lines(e.clipboardData.getData("text"));
    if (many.length < 2) return;
    e.preventDefault();
    add(many);
  };
  return (
    <input
      aria-label={`Add a step to ${stage.title}`}
      className={`${inputLook} min-h-8 border-transparent! bg-transparent! px-2! text-sm placeholder:text-faded`}
      placeholder="+ type a step, or paste lines"
      value={line}
      maxLength={120}
      onChange={(e) => setLine(e.target.value)}
      onPaste={paste}
      onKeyDown={(e) => {
        if (e.key === "Enter" && line.trim()) {
          e.preventDefault();
          add(lines(line));
        }
      }}
    />
  );
}
