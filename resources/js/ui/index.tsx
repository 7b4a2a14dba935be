import { clsx, type ClassValue } from 'clsx';
import { X } from 'lucide-react';
import { Dialog as RadixDialog, DropdownMenu, Tabs as RadixTabs, ToggleGroup, Tooltip as RadixTooltip } from 'radix-ui';
import type { ComponentProps, ReactNode } from 'react';
import { useId } from 'react';
import { twMerge } from 'tailwind-merge';
import type { Problem, Radix } from '../api/schemas';

export const cn = (...classes: ClassValue[]) => twMerge(clsx(classes));

const looks = {
    act: 'bg-red text-sheet border-red hover:brightness-110',
    plain: 'border-edge bg-sheet hover:bg-print',
    quiet: 'border-transparent hover:border-rule',
};

/** One look means "act here"; the others wait. */
export function Button({ look = 'plain', className, ...props }: ComponentProps<'button'> & { look?: keyof typeof looks }) {
    return (
        <button
            type="button"
            className={cn(
                'inline-flex min-h-8 items-center justify-center gap-1.5 rounded-[2px] border px-3 py-1 text-sm font-semibold whitespace-nowrap disabled:cursor-not-allowed disabled:opacity-60',
                looks[look],
                className,
            )}
            {...props}
        />
    );
}

export function Field({
    label,
    hint,
    children,
    className,
}: {
    label: string;
    hint?: string;
    children: (id: string) => ReactNode;
    className?: string;
}) {
    const id = useId();
    return (
        <div className={cn('flex flex-col gap-1', className)}>
            <label htmlFor={id} className="text-[13px] font-semibold text-soft">
                {label}
            </label>
            {children(id)}
            {hint && <p className="text-[13px] text-soft">{hint}</p>}
        </div>
    );
}

/** A field for a line of text. */
export function TextInput({
    label,
    hint,
    around,
    onChange,
    ...props
}: Omit<ComponentProps<'input'>, 'onChange' | 'id'> & {
    label: string;
    hint?: string;
    around?: string;
    onChange: (value: string) => void;
}) {
    return (
        <Field label={label} hint={hint} className={around}>
            {(id) => <input id={id} onChange={(event) => onChange(event.target.value)} {...props} />}
        </Field>
    );
}

/** A field for one of several. */
export function SelectInput({
    label,
    hint,
    around,
    options,
    onChange,
    ...props
}: Omit<ComponentProps<'select'>, 'onChange' | 'id' | 'children'> & {
    label: string;
    hint?: string;
    around?: string;
    options: { value: string; label: string }[];
    onChange: (value: string) => void;
}) {
    return (
        <Field label={label} hint={hint} className={around}>
            {(id) => (
                <select id={id} onChange={(event) => onChange(event.target.value)} {...props}>
                    {options.map((option) => (
                        <option key={option.value} value={option.value}>
                            {option.label}
                        </option>
                    ))}
                </select>
            )}
        </Field>
    );
}

/** A field for a file, or for several. */
export function FileInput({
    label,
    onChange,
    ...props
}: Omit<ComponentProps<'input'>, 'onChange' | 'id' | 'type'> & { label: string; onChange: (files: File[]) => void }) {
    return (
        <Field label={label}>
            {(id) => <input id={id} type="file" onChange={(event) => onChange([...(event.target.files ?? [])])} {...props} />}
        </Field>
    );
}

/** What was refused and why: every problem, with its place. */
export function ProblemList({ problems, title }: { problems: Problem[]; title?: string }) {
    if (problems.length === 0) {
        return null;
    }
    return (
        <div role="alert" className="settle border-l-4 border-red bg-wash px-3 py-2">
            <p className="font-semibold text-red">{title ?? 'This was not taken; nothing was stored.'}</p>
            <ul className="mt-1 flex max-h-64 flex-col gap-1 overflow-y-auto text-sm" data-testid="problems">
                {problems.map((problem, place) => (
                    <li key={place}>
                        {problem.place && <code className="mr-2 font-mono text-[13px] text-red">{problem.place}</code>}
                        {problem.sentence}
                    </li>
                ))}
            </ul>
        </div>
    );
}

export function Dialog({
    open,
    onOpenChange,
    title,
    about,
    children,
    wide,
}: {
    open: boolean;
    onOpenChange: (open: boolean) => void;
    title: string;
    about?: string;
    children: ReactNode;
    wide?: boolean;
}) {
    return (
        <RadixDialog.Root open={open} onOpenChange={onOpenChange}>
            <RadixDialog.Portal>
                <RadixDialog.Overlay className="fixed inset-0 z-40 bg-black/45" />
                <RadixDialog.Content
                    aria-describedby={about ? undefined : ''}
                    className={cn(
                        'settle fixed top-1/2 left-1/2 z-50 max-h-[92vh] w-[min(94vw,34rem)] -translate-x-1/2 -translate-y-1/2 overflow-y-auto border-2 border-ink bg-sheet p-5',
                        wide && 'w-[min(96vw,70rem)]',
                    )}
                >
                    <div className="mb-3 flex items-start justify-between gap-4">
                        <div>
                            <RadixDialog.Title className="text-xl">{title}</RadixDialog.Title>
                            {about && <RadixDialog.Description className="text-soft">{about}</RadixDialog.Description>}
                        </div>
                        <RadixDialog.Close asChild>
                            <Button look="quiet">
                                <X aria-hidden size={16} /> Close
                            </Button>
                        </RadixDialog.Close>
                    </div>
                    {children}
                </RadixDialog.Content>
            </RadixDialog.Portal>
        </RadixDialog.Root>
    );
}

export function Choice<T extends string>({
    label,
    value,
    onChange,
    options,
}: {
    label: string;
    value: T;
    onChange: (value: T) => void;
    options: { value: T; label: string }[];
}) {
    return (
        <ToggleGroup.Root
            type="single"
            aria-label={label}
            value={value}
            onValueChange={(next) => next && onChange(next as T)}
            className="inline-flex border border-edge bg-sheet"
        >
            {options.map((option) => (
                <ToggleGroup.Item
                    key={option.value}
                    value={option.value}
                    className="min-h-7 px-2.5 text-[13px] data-[state=on]:bg-ink data-[state=on]:text-sheet"
                >
                    {option.label}
                </ToggleGroup.Item>
            ))}
        </ToggleGroup.Root>
    );
}

/** In which base numbers are shown. */
export function BaseChoice({ value, onChange }: { value: Radix; onChange: (value: Radix) => void }) {
    return (
        <Choice
            label="Number base"
            value={String(value)}
            onChange={(base) => onChange(Number(base) as Radix)}
            options={[
                { value: '16', label: 'hex' },
                { value: '8', label: 'octal' },
                { value: '10', label: 'decimal' },
            ]}
        />
    );
}

export const Tabs = {
    Root: RadixTabs.Root,
    List: ({ className, ...props }: ComponentProps<typeof RadixTabs.List>) => (
        <RadixTabs.List className={cn('flex flex-wrap gap-x-5 border-b border-rule', className)} {...props} />
    ),
    Tab: ({ className, ...props }: ComponentProps<typeof RadixTabs.Trigger>) => (
        <RadixTabs.Trigger
            className={cn(
                '-mb-px min-h-9 border-b-[3px] border-transparent text-sm text-soft hover:text-ink data-[state=active]:border-ink data-[state=active]:font-semibold data-[state=active]:text-ink',
                className,
            )}
            {...props}
        />
    ),
    Panel: RadixTabs.Content,
};

export function Hint({ text, children }: { text: string; children: ReactNode }) {
    return (
        <RadixTooltip.Root>
            <RadixTooltip.Trigger asChild>{children}</RadixTooltip.Trigger>
            <RadixTooltip.Portal>
                <RadixTooltip.Content sideOffset={4} className="z-50 max-w-72 border border-ink bg-sheet px-2 py-1 text-[13px]">
                    {text}
                </RadixTooltip.Content>
            </RadixTooltip.Portal>
        </RadixTooltip.Root>
    );
}

export const HintProvider = RadixTooltip.Provider;

export function Key({ children }: { children: ReactNode }) {
    return <kbd className="border border-edge bg-sheet px-1.5 py-px font-mono text-[12px]">{children}</kbd>;
}

/** A share as red-pencil hatching with its number. */
export function ShareBar({ share }: { share: number }) {
    return (
        <div className="h-2.5 w-full border-b border-rule" aria-hidden>
            <div className="hatch h-2" style={{ width: `${Math.max(1.5, share * 100)}%` }} />
        </div>
    );
}

/** A menu that opens from a word. */
export function Menu({
    label,
    items,
    onChoose,
    disabled,
}: {
    label: string;
    items: { value: string; label: string }[];
    onChoose: (value: string) => void;
    disabled?: boolean;
}) {
    return (
        <DropdownMenu.Root modal={false}>
            <DropdownMenu.Trigger asChild>
                <button
                    type="button"
                    disabled={disabled}
                    className="min-h-6 text-[13px] text-soft underline underline-offset-2 data-[state=open]:text-ink"
                >
                    {label}
                </button>
            </DropdownMenu.Trigger>
            <DropdownMenu.Portal>
                <DropdownMenu.Content align="start" sideOffset={4} className="settle z-50 min-w-48 border border-ink bg-sheet py-1">
                    {items.map((item) => (
                        <DropdownMenu.Item
                            key={item.value}
                            onSelect={() => onChoose(item.value)}
                            className="cursor-default px-3 py-1.5 text-sm outline-none data-[highlighted]:bg-ink data-[highlighted]:text-sheet"
                        >
                            {item.label}
                        </DropdownMenu.Item>
                    ))}
                </DropdownMenu.Content>
            </DropdownMenu.Portal>
        </DropdownMenu.Root>
    );
}

/** Words that are pressed or not; several may be. */
export function Switches({
    label,
    options,
    on,
    onToggle,
    disabled,
}: {
    label: string;
    options: { value: string; label: string }[];
    on: string[];
    onToggle: (value: string, pressed: boolean) => void;
    disabled?: boolean;
}) {
    return (
        <div role="group" aria-label={label} className="flex flex-wrap gap-1.5">
            {options.map((option) => {
                const pressed = on.includes(option.value);
                return (
                    <Button
                        key={option.value}
                        aria-pressed={pressed}
                        disabled={disabled}
                        className={pressed ? 'bg-ink text-sheet hover:bg-ink' : 'font-normal'}
                        onClick={() => onToggle(option.value, !pressed)}
                    >
                        {option.label}
                    </Button>
                );
            })}
        </div>
    );
}
