// Fields for the kinds of values that a maker sets.
import {
  useEffect,
  useEffectEvent,
  useId,
  useLayoutEffect,
  useRef,
  useState,
  type KeyboardEvent,
  type ReactNode,
} from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { flushSync } from "react-dom";
import { api, say, unwrap, type Shop, type Tables } from "../api/client";
import { whenBack } from "./document/trying";
import { keep, keptOf } from "./kept";
import { nudge, showLength } from "./length";
import { reading, useMistyped } from "./readings";
import { showSize } from "./units";
import { useWorkshop } from "./workshop";

interface LengthProps {
  label: string;
  mm: number;
  /** Written as the size of a tool, as it is engraved on it. */
  size?: boolean;
  onChange: (mm: number) => void;
  /** What is entered: a path of the tables' ranges, such as board.design.corner. */
  of?: string;
  least?: number;
  most?: number;
  signed?: boolean;
  hideLabel?: boolean;
  name?: string;
}

/** useKept reads what was typed before the page was opened anew; the answer tells whether the field is gone. */
function useKept(name: string, read: (typed: string) => void) {
  const gone = useRef(false);
  const readKept = useEffectEvent(() => {
    const typed = keptOf(name);
    if (typed !== null) read(typed);
  });
  useEffect(() => {
    gone.current = false;
    readKept();
    return () => {
      gone.current = true;
    };
  }, []);
  return gone;
}

/** LengthField reads a length as it is written in the shop: 182, 7/8", 2' 6 1/2". */
export function LengthField({
  label,
  mm,
  onChange,
  of,
  signed: minus = false,
  hideLabel = false,
  name: field,
  size = false,
  ...own
}: LengthProps) {
  const { unit, range } = useWorkshop();
  const { least, most } = { ...range(of), ...own };
  const signed = minus || least < 0;
  const id = useId();
  const [text, setText] = useState<string | null>(null); // null while nothing is being typed
  const [wrong, setWrong] = useState("");
  useMistyped(wrong);
  const asked = useRef(0);
  const entered = useRef(mm); // what Escape goes back to
  // The answer comes after other fields may have changed: it goes to the newest
  // onChange, and is rendered before the next answer is looked at.
  const latest = useRef(onChange);
  useLayoutEffect(() => {
    latest.current = onChange;
  });
  const shown = text ?? (size ? showSize(mm, unit) : showLength(mm, unit));
  // A field is known again by what it is called and what stood in it.
  const name = `${location.pathname} ${label} ${of} ${mm}`;

  const gone = useKept(name, (typed) => reading(read(typed)));
  const read = async (typed: string) => {
    const turn = ++asked.current;
    try {
      const read = await whenBack(
        () => unwrap(api.POST("/api/lengths", { body: { text: typed, unit, signed } })),
        () => {
          if (turn !== asked.current || gone.current) return false;
          keep(name, typed);
          setText(typed);
          setWrong("Kept here until the server is back");
          return true;
        },
      );
      keep(name, null);
      if (turn !== asked.current) return;
      flushSync(() => {
        if (read.mm < least || read.mm > most)
          return setWrong(
            most === Infinity
              ? `Give at least ${showLength(least, unit)}`
              : `Give a length from ${showLength(least, unit)} to ${showLength(most, unit)}`,
          );
        setWrong("");
        if (document.activeElement?.id !== id) setText(null); // it was left before the answer came
        latest.current(read.mm);
      });
    } catch (error) {
      if (turn !== asked.current) return;
      setText(typed); // also when it was left before the answer came
      setWrong(say(error).split(" · ")[0]);
    }
  };
  const onKeyDown = (e: KeyboardEvent<HTMLInputElement>) => {
    if (e.key === "Enter") e.currentTarget.blur();
    if (e.key === "Escape") {
      asked.current++;
      keep(name, null);
      setText(null);
      setWrong("");
      onChange(entered.current);
    }
    if (e.key === "ArrowUp" || e.key === "ArrowDown") {
      e.preventDefault();
      const step = nudge(unit) * (e.shiftKey ? 10 : 1) * (e.key === "ArrowUp" ? 1 : -1);
      const next = mm + step;
      setText(null);
      setWrong("");
      onChange(Math.min(most, Math.max(signed ? least : Math.max(0, least), next)));
    }
  };
  return (
    <Form.Group className="field" controlId={id}>
      <Form.Label visuallyHidden={hideLabel}>{label}</Form.Label>
      <Form.Control
        size="sm"
        name={field}
        inputMode="text"
        autoComplete="off"
        value={shown}
        isInvalid={wrong !== ""}
        data-dirty={text === null ? undefined : "yes"}
        aria-describedby={wrong ? `${id}-wrong` : undefined}
        onFocus={(e) => {
          entered.current = mm;
          e.currentTarget.select();
        }}
        onChange={(e) => {
          setText(e.target.value);
          reading(read(e.target.value));
        }}
        onBlur={() => {
          if (wrong === "") setText(null);
        }}
        onKeyDown={onKeyDown}
      />
      {wrong && (
        <div id={`${id}-wrong`} className="wrong" role="alert">
          {wrong}
        </div>
      )}
    </Form.Group>
  );
}

interface NumberProps {
  label: string;
  value: number;
  onChange: (v: number) => void;
  /** As of a length. */
  of?: string;
  /** How many of the range's unit are one of the field's. */
  per?: number;
  least?: number;
  most?: number;
  step?: number;
  unit?: string;
  whole?: boolean;
  hideLabel?: boolean;
}

const plain = (v: number): string => String(Number(v.toFixed(3)));

/** NumberField reads a plain number, with a comma or a point, in the workshop's own unit. */
export function NumberField({
  label,
  value: metric,
  onChange,
  of,
  per = 1,
  step = 1,
  unit = "",
  whole = false,
  hideLabel = false,
  ...own
}: NumberProps) {
  const { range, scale } = useWorkshop();
  const known = range(of);
  const limits = { least: known.least / per, most: known.most / per, ...own };
  const by = scale(unit);
  const [value, least, most] = [by.shown(metric), by.shown(limits.least), by.shown(limits.most)];
  const give = (v: number) => onChange(by.metric(v));
  const id = useId();
  const [text, setText] = useState<string | null>(null);
  const [wrong, setWrong] = useState("");
  useMistyped(wrong);
  const judge = (typed: string) => {
    const v = Number(typed.replace(",", "."));
    if (typed.trim() === "" || Number.isNaN(v)) return setWrong("This is not a number: write it like 12 or 12.5");
    if (whole && !Number.isInteger(v)) return setWrong("Give a whole number");
    if (v < least || v > most)
      return setWrong(
        most === Infinity ? `Give at least ${plain(least)}` : `Give a value from ${plain(least)} to ${plain(most)}`,
      );
    setWrong("");
    give(v);
  };
  return (
    <Form.Group className="field" controlId={id}>
      <Form.Label visuallyHidden={hideLabel}>
        {label}
        {by.name && <span className="unit"> {by.name}</span>}
      </Form.Label>
      <Form.Control
        size="sm"
        inputMode="decimal"
        autoComplete="off"
        value={text ?? plain(value)}
        isInvalid={wrong !== ""}
        data-dirty={text === null ? undefined : "yes"}
        onFocus={(e) => e.currentTarget.select()}
        onChange={(e) => {
          setText(e.target.value);
          judge(e.target.value);
        }}
        onBlur={() => wrong === "" && setText(null)}
        onKeyDown={(e) => {
          if (e.key === "ArrowUp" || e.key === "ArrowDown") {
            e.preventDefault();
            const v = value + step * (e.shiftKey ? 10 : 1) * (e.key === "ArrowUp" ? 1 : -1);
            setText(null);
            setWrong("");
            give(Math.min(most, Math.max(least, Number(v.toFixed(6)))));
          }
        }}
      />
      {wrong && (
        <div className="wrong" role="alert">
          {wrong}
        </div>
      )}
    </Form.Group>
  );
}

/** Option is one of the words of a choice. */
export interface Option<T extends string> {
  value: T;
  label: string;
}

/** kindsOf makes the options of a list of kinds that the core serves, whatever the field's own type. */
export const kindsOf = (kinds: readonly { kind: string; name: string; label?: string }[]): Option<never>[] =>
  kinds.map((k) => ({ value: k.kind as never, label: k.label ?? k.name }));

/** wordsOf makes the options of a list of words that the core serves. */
export const wordsOf = (words: readonly string[]): Option<never>[] =>
  words.map((word) => ({ value: word as never, label: word }));

/** sawsOf makes the options of the saws for outlines, those that are not owned marked so. */
export const sawsOf = (tables: Tables, shop: Shop): Option<never>[] =>
  tables.saws.map((o) => ({
    value: o.name as never,
    label: shop.tools.some((t) => t.kind === o.name) ? o.name : `${o.name}, not owned`,
  }));

/** MoneyField reads a sum in the workshop's currency, and gives whole cents. */
export function MoneyField({
  cents,
  onChange,
  ...field
}: Pick<NumberProps, "label" | "of" | "step"> & {
  cents: number;
  onChange: (cents: number) => void;
}) {
  const whole = 100;
  return <NumberField {...field} per={whole} value={cents / whole} onChange={(v) => onChange(Math.round(v * whole))} />;
}

interface ChoiceProps<T extends string> {
  label: string;
  value: T;
  options: readonly (T | Option<T>)[];
  onChange: (v: T) => void;
  hideLabel?: boolean;
}

/** Choice is one of a few words. */
export function Choice<T extends string>({ label, value, options, onChange, hideLabel = false }: ChoiceProps<T>) {
  const id = useId();
  return (
    <Form.Group className="field" controlId={id}>
      <Form.Label visuallyHidden={hideLabel}>{label}</Form.Label>
      <Form.Select size="sm" value={value} onChange={(e) => onChange(e.target.value as T)}>
        {options.map((o) => {
          const option = typeof o === "string" ? { value: o, label: o } : o;
          return (
            <option key={option.value} value={option.value}>
              {option.label}
            </option>
          );
        })}
      </Form.Select>
    </Form.Group>
  );
}

/** FaceChoice is one of the two faces. */
export function FaceChoice({
  label,
  under,
  onChange,
}: {
  label: string;
  under: boolean;
  onChange: (under: boolean) => void;
}) {
  return (
    <Choice
      label={label}
      value={under ? "under" : "show"}
      options={[
        { value: "show", label: "show face" },
        { value: "under", label: "under face" },
      ]}
      onChange={(face) => onChange(face === "under")}
    />
  );
}

/** Tick is a yes or no. */
export function Tick({ label, value, onChange }: { label: string; value: boolean; onChange: (v: boolean) => void }) {
  const id = useId();
  return (
    <Form.Check id={id} type="checkbox" label={label} checked={value} onChange={(e) => onChange(e.target.checked)} />
  );
}

interface TextProps {
  label: string;
  value: string;
  onChange: (v: string) => void;
  rows?: number;
  list?: string[];
  hideLabel?: boolean;
  placeholder?: string;
}

/** TextField reads words; with a list only words of the list are taken. */
export function TextField({ label, value, onChange, rows, list, hideLabel = false, placeholder }: TextProps) {
  const id = useId();
  const [text, setText] = useState(value);
  const [wrong, setWrong] = useState("");
  useMistyped(wrong);
  useEffect(() => {
    setText(value);
    setWrong("");
  }, [value]);
  const take = (typed: string) => {
    setText(typed);
    if (!list) return onChange(typed);
    const found = list.find((o) => o.toLowerCase() === typed.trim().toLowerCase());
    setWrong(found ? "" : "Choose one from the list");
    if (found && found !== value) onChange(found);
  };
  return (
    <Form.Group className="field" controlId={id}>
      <Form.Label visuallyHidden={hideLabel}>{label}</Form.Label>
      <Form.Control
        size="sm"
        {...(rows ? { as: "textarea" as const, rows } : {})}
        value={text}
        placeholder={placeholder}
        list={list ? `${id}-list` : undefined}
        autoComplete="off"
        isInvalid={wrong !== ""}
        onChange={(e) => take(e.target.value)}
      />
      {list && (
        <datalist id={`${id}-list`}>
          {list.map((o) => (
            <option key={o} value={o} />
          ))}
        </datalist>
      )}
      {wrong && (
        <div className="wrong" role="alert">
          {wrong}
        </div>
      )}
    </Form.Group>
  );
}

/** DayField is a day of the calendar, or none. */
export function DayField({
  label,
  value,
  onChange,
  name,
}: {
  label: string;
  value: string;
  onChange: (day: string) => void;
  name?: string;
}) {
  const own = useId();
  const id = name ?? own;
  return (
    <Form.Group className="field" controlId={id}>
      <Form.Label>{label}</Form.Label>
      <Form.Control size="sm" type="date" value={value} onChange={(e) => onChange(e.target.value)} />
    </Form.Group>
  );
}

/** Row sets fields side by side. */
export function Row({ children }: { children: ReactNode }) {
  return <div className="field-row">{children}</div>;
}

/** RemoveButton takes one thing out of a list. */
export function RemoveButton({
  what,
  onClick,
  disabled = false,
}: {
  what: string;
  onClick: () => void;
  disabled?: boolean;
}) {
  return (
    <button type="button" className="remove" aria-label={`Remove ${what}`} disabled={disabled} onClick={onClick}>
      ×
    </button>
  );
}

/** ColourField is a colour, #rrggbb. */
export function ColourField({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (v: string) => void;
}) {
  const id = useId();
  return (
    <div className="field">
      <label className="form-label" htmlFor={id}>
        {label}
      </label>
      <input
        id={id}
        type="color"
        className="form-control form-control-sm form-control-color"
        value={value}
        onChange={(e) => onChange(e.target.value)}
      />
    </div>
  );
}

/** FormFoot keeps what a form holds, leaves it as it was, or puts away what it is about. */
export function FormFoot({
  saving,
  ready,
  onClose,
  what,
  onRemove,
}: {
  saving: boolean;
  ready: boolean;
  onClose: () => void;
  /** What is put away; left out of a new thing. */
  what?: string;
  onRemove?: () => void;
}) {
  return (
    <div>
      <Button type="submit" size="sm" disabled={saving || !ready}>
        Keep it
      </Button>
      <Button size="sm" variant="link" onClick={onClose}>
        Not now
      </Button>
      {what !== undefined && onRemove && <RemoveButton what={what} onClick={onRemove} />}
    </div>
  );
}
