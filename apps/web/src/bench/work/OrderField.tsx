import { closestCenter, DndContext, type DragEndEvent, KeyboardSensor, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { arrayMove, SortableContext, sortableKeyboardCoordinates, useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { channelTitle, type Shot } from "@kneader/core";
import { GripVertical } from "lucide-react";

interface OrderFieldProps {
  title: string;
  /** Channel keys. */
  value: readonly string[];
  shot: Shot;
  onChange(value: string[]): void;
}

/** Channels in an order that is changed by dragging, or with Space and the arrows. */
export function OrderField({ title, value, shot, onChange }: OrderFieldProps) {
  const sensors = useSensors(useSensor(PointerSensor), useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }));
  const drop = ({ active, over }: DragEndEvent) => {
    if (over && over.id !== active.id) onChange(arrayMove([...value], value.indexOf(String(active.id)), value.indexOf(String(over.id))));
  };
  return (
    <fieldset className="setting order-setting" aria-label={title}>
      <span className="setting-title">{title}</span>
      <ol>
        <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
          <SortableContext items={[...value]} strategy={verticalListSortingStrategy}>
            {value.map((key) => (
              <OrderItem key={key} id={key} label={channelTitle(shot.rig, key)} />
            ))}
          </SortableContext>
        </DndContext>
      </ol>
    </fieldset>
  );
}

function OrderItem({ id, label }: { id: string; label: string }) {
  const { attributes, listeners, setNodeRef, transform } = useSortable({ id });
  return (
    <li ref={setNodeRef} style={transform ? { transform: `translateY(${transform.y}px)` } : undefined}>
      <button type="button" aria-label={`Move ${label}`} {...attributes} {...listeners}>
        <GripVertical size={12} />
        {label}
      </button>
    </li>
  );
}
