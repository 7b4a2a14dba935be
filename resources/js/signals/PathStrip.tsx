import type { SignalPath, SignalPin } from '../api/schemas';
import { cn } from '../ui';
import { should } from './ProbedPinout';

/** The end of the way, where the net itself is, shows first. */
const toTheEnd = (strip: HTMLElement | null) => {
    if (strip) {
        strip.scrollLeft = strip.scrollWidth;
    }
};

/** A signal from its source to its loads: each stage with its inputs and output, what they should be above, what was seen below. */
export function PathStrip({ path, onPick }: { path: SignalPath; onPick: (pin: string) => void }) {
    return (
        <section aria-label={`The way of ${path.net}`} className="flex flex-col gap-2">
            <div ref={toTheEnd} className="overflow-x-auto pb-1" role="group" aria-label={`Stages of ${path.net}, source first`}>
                <ol className="flex min-w-max items-stretch">
                    {path.stages.map((stage, number) => (
                        <li key={stage.output.pin} className="flex items-stretch">
                            <div
                                className={cn(
                                    'flex min-w-44 flex-col border-2 bg-sheet',
                                    path.parts === number ? 'border-red' : 'border-ink',
                                )}
                            >
                                <p className="border-b border-rule bg-board px-2 py-0.5 text-sm">
                                    <strong>{stage.chip}</strong> <span className="font-mono text-[12px]">{stage.part}</span>
                                    {path.parts === number && <strong className="float-right text-red">parts here</strong>}
                                </p>
                                <ul className="flex-1 px-1 py-0.5">
                                    {stage.inputs.map((pin) => (
                                        <Point key={pin.pin} pin={pin} next={path.next} onPick={onPick} into />
                                    ))}
                                    {stage.inputs.length === 0 && <li className="px-1 text-[13px] text-soft">source</li>}
                                </ul>
                                <div className="border-t border-rule px-1 py-0.5">
                                    <Point pin={stage.output} next={path.next} onPick={onPick} />
                                </div>
                            </div>
                            <span aria-hidden className="self-end px-1 pb-2 font-mono text-soft">
                                ──▸
                            </span>
                        </li>
                    ))}
                    <li className={cn('flex min-w-40 flex-col border border-dashed', path.breaks ? 'border-red' : 'border-ink')}>
                        <p className="border-b border-rule px-2 py-0.5 text-sm">
                            loads of <strong className="font-mono">{path.net}</strong>
                            {path.breaks && <strong className="float-right pl-2 text-red">parts here</strong>}
                        </p>
                        <ul className="max-h-56 overflow-y-auto px-1 py-0.5">
                            {path.loads.map((pin) => (
                                <Point key={pin.pin} pin={pin} next={path.next} onPick={onPick} into />
                            ))}
                            {path.loads.length === 0 && <li className="px-1 text-[13px] text-soft">none on this profile</li>}
                        </ul>
                    </li>
                </ol>
            </div>
            {path.next && (
                <p>
                    Probe next:{' '}
                    <button
                        type="button"
                        className="font-mono font-semibold underline underline-offset-2"
                        onClick={() => onPick(path.next!)}
                    >
                        {path.next}
                    </button>
                    <span className="text-soft"> – half of what is suspected on the way lies before it.</span>
                </p>
            )}
            {path.breaks && (
                <p>
                    <strong>It starts right and does not arrive:</strong> {path.net} itself is broken{' '}
                    {path.between ? (
                        <>
                            between <span className="font-mono">{path.between.from}</span> and{' '}
                            <span className="font-mono">{path.between.to}</span>
                            {path.between.points > 0 &&
                                `, ${path.between.points === 1 ? 'with one pin' : `with ${path.between.points} pins`} between them: halve it under Traces`}
                            .
                        </>
                    ) : (
                        'on the way. Find between which pins under Traces.'
                    )}
                </p>
            )}
            {path.drivers.length > 0 && (
                <p className="text-[14px]">
                    <strong>Shared line.</strong> {path.breaks ? '' : 'Held, it looks bad at every part on it. '}
                    {path.drivers.length} outputs can drive it:{' '}
                    <span className="font-mono text-[13px]">{path.drivers.map((pin) => pin.pin).join(' ')}</span>.
                    {path.removable.length > 0 && (
                        <> To see whether it frees itself: {path.removable.map((each) => each.how).join('; ')}.</>
                    )}
                </p>
            )}
        </section>
    );
}

function Point({ pin, next, onPick, into }: { pin: SignalPin; next: string | null; onPick: (pin: string) => void; into?: boolean }) {
    const seen = pin.seen ?? '';
    return (
        <div role={into ? 'listitem' : undefined}>
            <button
                type="button"
                onClick={() => onPick(pin.pin)}
                title={pin.called}
                className={cn(
                    'flex min-h-6 w-full items-baseline gap-2 border-l-4 border-transparent px-1 text-left text-[13px] hover:bg-print',
                    pin.pin === next && 'border-ink bg-print',
                    pin.right === false && 'border-red',
                    pin.right === true && 'border-green',
                )}
            >
                <span className="w-14 font-mono">{pin.pin}</span>
                <span className="flex-1 text-soft">{should(pin) === 'any' ? '' : should(pin)}</span>
                <span className={cn('font-semibold', pin.right === false ? 'text-red' : pin.right ? 'text-green' : '')}>
                    {pin.right === false ? '✗ ' : pin.right ? '✓ ' : ''}
                    {seen}
                </span>
            </button>
        </div>
    );
}
