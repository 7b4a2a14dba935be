import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Download, HelpCircle, Moon, PanelRight, Sun } from 'lucide-react';
import { lazy, Suspense, useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { problemsOf } from '../api/client';
import { boardQuery, jobQuery, pulseQuery, useRestore, useUpdateJob, useWithdraw } from '../api/queries';
import type { Board, Job, Radix, State } from '../api/schemas';
import { BenchLine } from '../benchline/BenchLine';
import { useWorkshopTheme } from '../home/useWorkshopTheme';
import { Button, Choice, cn, Dialog, ProblemList } from '../ui';
import { useKeys } from '../ui/keys';
import { chooseTheme, useTheme } from '../ui/theme';
import { stateWords, Verdict } from '../verdict/Verdict';
import { Context } from './Context';
import { Help } from './Help';

const MemoryStage = lazy(() => import('../memory/MemoryStage'));
const DiagnosticsStage = lazy(() => import('../diagnostics/DiagnosticsStage'));
const ConfirmStage = lazy(() => import('../confirm/ConfirmStage'));
const RepairStage = lazy(() => import('../repair/RepairStage'));
const CheckInStage = lazy(() => import('../checkin/CheckInStage'));
const LookStage = lazy(() => import('../look/LookStage'));
const RailsStage = lazy(() => import('../rails/RailsStage'));
const HeatStage = lazy(() => import('../heat/HeatStage'));
const SignsStage = lazy(() => import('../signs/SignsStage'));
const ProveStage = lazy(() => import('../prove/ProveStage'));
const BusStage = lazy(() => import('../bus/BusStage'));
const RomStage = lazy(() => import('../rom/RomStage'));
const SignalsStage = lazy(() => import('../signals/SignalsStage'));
const TracesStage = lazy(() => import('../traces/TracesStage'));
const PracticeStage = lazy(() => import('../practice/PracticeStage'));
const Ledger = lazy(() => import('../ledger/Ledger'));
const Record = lazy(() => import('../record/Record'));
const Log = lazy(() => import('./Log'));

const round = [
    'Check-in',
    'Look',
    'Rails',
    'Heat',
    'Signs',
    'Diagnostics',
    'Memory',
    'Signals',
    'Traces',
    'ROM',
    'Bus',
    'Confirm',
    'Repair',
    'Prove',
];

export default function JobPage() {
    const { id = '', stage = 'memory' } = useParams();
    const job = useQuery(jobQuery(id));
    const board = useQuery({ ...boardQuery(job.data?.board.slug ?? ''), enabled: Boolean(job.data) });

    if (job.isError || board.isError) {
        return (
            <main className="mx-auto flex max-w-xl flex-col gap-4 p-8">
                <ProblemList problems={problemsOf(job.error ?? board.error)} title="This job cannot be shown." />
                <Link to="/" className="underline">
                    Back to the bench
                </Link>
            </main>
        );
    }
    if (!job.data || !board.data) {
        return (
            <p className="p-8 text-soft" role="status">
                Fetching the job…
            </p>
        );
    }
    return <Frame job={job.data} board={board.data} stage={stage} />;
}

function Frame({ job, board, stage }: { job: Job; board: Board; stage: string }) {
    const navigate = useNavigate();
    const [help, setHelp] = useState(false);
    const [drawer, setDrawer] = useState(false);
    const line = useRef<HTMLInputElement>(null);
    const withdraw = useWithdraw(job.id);
    const restore = useRestore(job.id);
    const underway = useRef(new Set<string>());
    useOthers(job);
    useWorkshopTheme();

    const takeBack = () => {
        // Two strokes in a row take back two, though the answer to the first is still on its way.
        const last = job.log.filter((entry) => entry.withdrawnAt === null && !underway.current.has(entry.id)).at(-1);
        if (last) {
            underway.current.add(last.id);
            withdraw.mutate(last.id, { onSettled: () => underway.current.delete(last.id) });
        }
    };
    const putBack = () => {
        const last = job.log
            .filter((entry) => entry.withdrawnAt !== null && !underway.current.has(entry.id))
            .sort((a, b) => (a.withdrawnAt! < b.withdrawnAt! ? -1 : 1))
            .at(-1);
        if (last) {
            underway.current.add(last.id);
            restore.mutate(last.id, { onSettled: () => underway.current.delete(last.id) });
        }
    };
    useKeys({
        '/': () => line.current?.focus(),
        '?': () => setHelp(true),
        i: () => void navigate(`/jobs/${job.id}/check-in`),
        o: () => void navigate(`/jobs/${job.id}/look`),
        v: () => void navigate(`/jobs/${job.id}/rails`),
        h: () => void navigate(`/jobs/${job.id}/heat`),
        s: () => void navigate(`/jobs/${job.id}/signs`),
        p: () => void navigate(`/jobs/${job.id}/prove`),
        g: () => void navigate(`/jobs/${job.id}/ledger`),
        w: () => void navigate(`/jobs/${job.id}/record`),
        d: () => void navigate(`/jobs/${job.id}/diagnostics`),
        e: () => void navigate(`/jobs/${job.id}/signals`),
        t: () => void navigate(`/jobs/${job.id}/traces`),
        b: () => void navigate(`/jobs/${job.id}/bus`),
        n: () => void navigate(`/jobs/${job.id}/rom`),
        m: () => void navigate(`/jobs/${job.id}/memory`),
        k: () => void navigate(`/jobs/${job.id}/confirm`),
        r: () => void navigate(`/jobs/${job.id}/repair`),
        l: () => void navigate(`/jobs/${job.id}/log`),
        c: () => document.querySelector<HTMLElement>('[data-testid="context"]')?.click(),
        z: takeBack,
        Z: putBack,
    });

    return (
        <div className="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)_auto] max-[819px]:grid-rows-[auto_auto_minmax(0,1fr)_auto] min-[1100px]:grid-cols-[168px_minmax(0,1fr)_348px] min-[820px]:grid-cols-[150px_minmax(0,1fr)]">
            <Head job={job} board={board} onHelp={() => setHelp(true)} onDrawer={() => setDrawer(true)} />
            <Round job={job} board={board} stage={stage} />
            <main className="min-h-0 min-w-0 overflow-y-auto bg-sheet px-5 py-4 max-[819px]:px-3" tabIndex={-1}>
                <Suspense fallback={<p className="text-soft">Laying out…</p>}>
                    <Instrument key={job.id} job={job} board={board} stage={stage} />
                </Suspense>
            </main>
            <aside aria-label="Verdict" className="hidden min-h-0 overflow-y-auto border-l border-rule bg-print p-4 min-[1100px]:block">
                <Verdict job={job} board={board} />
            </aside>
            <footer className="col-span-full h-14 border-t border-ink bg-sheet">
                <BenchLine job={job} board={board} input={line} onHelp={() => setHelp(true)} onTakeBack={takeBack} />
            </footer>
            <Help open={help} onOpenChange={setHelp} />
            <Dialog open={drawer} onOpenChange={setDrawer} title="Verdict">
                <Verdict job={job} board={board} />
            </Dialog>
        </div>
    );
}

const instruments: Record<string, React.ComponentType<{ job: Job; board: Board }>> = {
    'check-in': CheckInStage,
    look: LookStage,
    rails: RailsStage,
    heat: HeatStage,
    signs: SignsStage,
    diagnostics: DiagnosticsStage,
    signals: SignalsStage,
    rom: RomStage,
    bus: BusStage,
    traces: TracesStage,
    practice: PracticeStage,
    confirm: ConfirmStage,
    repair: RepairStage,
    prove: ProveStage,
    log: Log,
    ledger: Ledger,
    record: Record,
};

/** The instrument of the chosen stage. */
function Instrument({ job, board, stage }: { job: Job; board: Board; stage: string }) {
    const Chosen = instruments[stage] ?? MemoryStage;
    return <Chosen job={job} board={board} />;
}

/** What another window or another device recorded shows here at once. */
function useOthers(job: Job) {
    const cache = useQueryClient();
    const pulse = useQuery(pulseQuery(job.id));
    const changedAt = pulse.data?.changedAt;
    useEffect(() => {
        if (changedAt && changedAt > job.changedAt) {
            void cache.invalidateQueries({ queryKey: jobQuery(job.id).queryKey });
        }
    }, [cache, changedAt, job.changedAt, job.id]);
}

function Head({ job, board, onHelp, onDrawer }: { job: Job; board: Board; onHelp: () => void; onDrawer: () => void }) {
    const theme = useTheme();
    const update = useUpdateJob(job.id);

    return (
        <header className="col-span-full flex min-h-13 flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule px-4 py-1.5">
            <Link to="/" className="text-sm text-soft underline underline-offset-2 hover:text-ink">
                Bench
            </Link>
            <h1 className="text-lg whitespace-nowrap">{job.machine}</h1>
            <p
                className="min-w-0 flex-1 truncate text-sm text-soft max-[819px]:hidden"
                title={`${board.name}, ${board.revision}. ${job.symptom}`}
            >
                <Link to={`/boards/${board.slug}`} className="underline underline-offset-2 hover:text-ink">
                    {board.name}
                </Link>{' '}
                · {job.symptom || 'no symptom noted'}
            </p>
            <div className="max-w-[21.5rem] min-w-0 shrink min-[1400px]:max-w-[32rem] max-[819px]:order-last max-[819px]:max-w-none max-[819px]:basis-full max-[819px]:shrink">
                <Context job={job} board={board} />
            </div>
            <select
                aria-label="State of the job"
                className="py-1 text-[13px]"
                value={job.state}
                onChange={(event) => update.mutate({ state: event.target.value as State })}
            >
                {(Object.keys(stateWords) as State[]).map((state) => (
                    <option key={state} value={state}>
                        {stateWords[state]}
                    </option>
                ))}
            </select>
            <Choice
                label="Number base"
                value={String(job.radix)}
                onChange={(radix) => update.mutate({ radix: Number(radix) as Radix })}
                options={[
                    { value: '16', label: 'hex' },
                    { value: '8', label: 'oct' },
                    { value: '10', label: 'dec' },
                ]}
            />
            <div className="flex items-center">
                <Button look="quiet" className="px-2 text-[13px] font-normal min-[1100px]:hidden" onClick={onDrawer}>
                    <PanelRight aria-hidden size={16} /> Verdict
                </Button>
                <a
                    href={`/api/jobs/${job.id}/file`}
                    download
                    className="inline-flex min-h-8 items-center gap-1 px-2 text-[13px] hover:underline"
                >
                    <Download aria-hidden size={16} /> Save
                </a>
                <Button
                    look="quiet"
                    className="px-2 text-[13px] font-normal"
                    onClick={() => chooseTheme(theme === 'day' ? 'lights-out' : 'day')}
                >
                    {theme === 'day' ? <Moon aria-hidden size={16} /> : <Sun aria-hidden size={16} />}{' '}
                    {theme === 'day' ? 'Lights out' : 'Day'}
                </Button>
                <Button look="quiet" className="px-2 text-[13px] font-normal" onClick={onHelp}>
                    <HelpCircle aria-hidden size={16} /> Help
                </Button>
            </div>
        </header>
    );
}

const untouched = { mark: '·', word: 'untouched', look: 'text-soft' };

function Round({ job, board, stage }: { job: Job; board: Board; stage: string }) {
    const memory =
        job.memory.failed > 0
            ? { mark: '◆', word: 'has findings', look: 'text-red' }
            : job.memory.readings > 0
              ? { mark: '✓', word: 'nothing wrong seen', look: 'text-green' }
              : untouched;
    const tried = job.log.some((entry) => entry.kind === 'intervention' && entry.withdrawnAt === null);
    const confirm = !tried
        ? untouched
        : job.cured.length > 0
          ? { mark: '✓', word: 'something cured', look: 'text-green' }
          : { mark: '◆', word: 'has findings', look: 'text-ochre' };
    const fitted = Object.values(job.done).some((what) => ['replace', 'wire', 'fix'].includes(what));
    const repaired = !fitted
        ? untouched
        : job.nothingLeft > 0.5
          ? { mark: '✓', word: 'nothing left', look: 'text-green' }
          : { mark: '◆', word: 'something is left', look: 'text-ochre' };
    const diagnostics = !job.comparison
        ? untouched
        : job.comparison.passed
          ? { mark: '✓', word: 'passed', look: 'text-green' }
          : { mark: '◆', word: 'has findings', look: 'text-red' };
    const state = job.round;
    const found = (bad: boolean, doubtful: boolean, any: boolean, good: string): typeof untouched =>
        bad
            ? { mark: '◆', word: 'has findings', look: 'text-red' }
            : doubtful
              ? { mark: '◆', word: 'doubtful', look: 'text-ochre' }
              : any
                ? { mark: '✓', word: good, look: 'text-green' }
                : untouched;
    const told = job.log.some((entry) => ['history', 'photo'].includes(entry.kind) && entry.withdrawnAt === null);
    const marked = (mark: 'wrong' | 'right' | null, good: string) => found(mark === 'wrong', false, mark !== null, good);
    const signs = new Set(board.signs.filter((sign) => !sign.good).map((sign) => sign.id));
    const stages: Record<string, { path: string; state: typeof untouched }> = {
        'Check-in': { path: 'check-in', state: told ? { mark: '✓', word: 'has facts', look: 'text-ink' } : untouched },
        Look: {
            path: 'look',
            state: found(
                state.looks.some((look) => look.finding !== 'fine'),
                false,
                state.looks.length > 0,
                'nothing wrong seen',
            ),
        },
        Rails: {
            path: 'rails',
            state: found(
                state.supply.rails.some((rail) => rail.problems.length > 0),
                state.supply.rails.some((rail) => rail.measured) && !state.supply.measured,
                state.supply.measured,
                'within limits',
            ),
        },
        Heat: {
            path: 'heat',
            state: found(
                state.heat.parts.some((part) => part.verdict),
                false,
                state.heat.parts.length > 0,
                'nothing unusual',
            ),
        },
        Signs: {
            path: 'signs',
            state: found(
                state.signs.rows.some((row) => signs.has(row.sign)),
                !state.signs.stable,
                state.signs.rows.length > 0,
                'signs of health',
            ),
        },
        Prove: {
            path: 'prove',
            state: found(
                state.proof.functions.some((each) => each.works === false),
                !state.proof.proved && (state.proof.clean > 0 || state.proof.functions.some((each) => each.works !== null)),
                state.proof.proved,
                'proved',
            ),
        },
        Diagnostics: { path: 'diagnostics', state: diagnostics },
        Memory: { path: 'memory', state: memory },
        Signals: { path: 'signals', state: marked(state.marks.signals, 'nothing wrong seen') },
        Traces: { path: 'traces', state: marked(state.marks.traces, 'tested') },
        ROM: { path: 'rom', state: marked(state.marks.rom, 'as it should be') },
        Bus: { path: 'bus', state: marked(state.marks.bus, 'as it should be') },
        Confirm: { path: 'confirm', state: confirm },
        Repair: { path: 'repair', state: repaired },
    };

    return (
        <nav
            aria-label="The round"
            className="min-h-0 overflow-y-auto border-r border-rule py-2 max-[819px]:flex max-[819px]:border-r-0 max-[819px]:border-b max-[819px]:py-0"
        >
            <ol className="max-[819px]:flex">
                {round.map((name, place) => {
                    const open = stages[name];
                    const current = open !== undefined && open.path === stage;
                    return open ? (
                        <li key={name}>
                            <Link
                                to={`/jobs/${job.id}/${open.path}`}
                                aria-current={current ? 'page' : undefined}
                                className={cn(
                                    'flex h-8.5 items-center gap-2.5 border-y border-transparent px-4 whitespace-nowrap',
                                    current && 'border-rule bg-sheet font-semibold',
                                )}
                            >
                                <span className="w-4 text-right font-mono text-[12px] text-soft max-[819px]:hidden">{place + 1}</span>
                                <span className="flex-1">{name}</span>
                                <span className={open.state.look} role="img" aria-label={open.state.word}>
                                    {open.state.mark}
                                </span>
                            </Link>
                        </li>
                    ) : (
                        <li key={name} className="flex h-8.5 items-center gap-2.5 px-4 text-soft max-[819px]:hidden">
                            <span className="w-4 text-right font-mono text-[12px]">{place + 1}</span>
                            <span className="flex-1">{name}</span>
                        </li>
                    );
                })}
            </ol>
            {[
                ...(job.practice ? [{ path: 'practice', name: 'Practice bench', number: null }] : []),
                { path: 'log', name: 'Log', number: job.log.length },
                { path: 'ledger', name: 'Chip ledger', number: state.ledger.filter((part) => !part.home).length },
                { path: 'record', name: 'Record', number: null },
            ].map((paper, place) => (
                <Link
                    key={paper.path}
                    to={`/jobs/${job.id}/${paper.path}`}
                    aria-current={stage === paper.path ? 'page' : undefined}
                    className={cn(
                        'flex h-8 items-center gap-2.5 border-y border-transparent px-4 whitespace-nowrap max-[819px]:mt-0 max-[819px]:h-9',
                        place === 0 && 'mt-1',
                        stage === paper.path && 'border-rule bg-sheet font-semibold',
                    )}
                >
                    <span className="w-4 shrink-0 max-[819px]:hidden" />
                    <span className="flex-1">{paper.name}</span>
                    <span className="font-mono text-[12px] text-soft">{paper.number || ''}</span>
                </Link>
            ))}
        </nav>
    );
}
