/* Made from resources/schemas/api.schema.json by `npm run types`. Do not edit. */

export type Radix = 8 | 10 | 16;
export type RangeKind = 'ram' | 'rom' | 'io' | 'open';
export type State =
    'open' | 'repaired' | 'no-fault-found' | 'waiting-for-parts' | 'parked' | 'given-up' | 'cured-unexplained';
export type SiteKind =
    | 'chip'
    | 'net'
    | 'buffer'
    | 'multiplexer'
    | 'select'
    | 'strobe'
    | 'refresh'
    | 'supply'
    | 'link'
    | 'elsewhere'
    | 'setup'
    | 'second-machine'
    | 'pin'
    | 'assembly'
    | 'part';
export type Stuck = 'high' | 'low' | 'either' | 'none';
export type Pattern =
    | 'none'
    | 'every-address'
    | 'cells'
    | 'row'
    | 'column'
    | 'block'
    | 'all-bits'
    | 'same-bit-every-bank'
    | 'alias'
    | 'tied-bits'
    | 'fades'
    | 'unstable'
    | 'nothing-drives'
    | 'overlaid';
export type School = 'measure-first' | 'swap-first' | 'clean-first' | 'likelihood';

/**
 * What the API answers.
 */
export interface Api {
    BoardsResponse?: BoardsResponse;
    BoardResponse?: BoardResponse;
    JobsResponse?: JobsResponse;
    JobResponse?: JobResponse;
    UnderstandResponse?: UnderstandResponse;
    BenchLineResponse?: BenchLineResponse;
    BenchFormsResponse?: BenchFormsResponse;
    ImportedJobResponse?: ImportedJobResponse;
    ImportedBoardResponse?: ImportedBoardResponse;
    Problems?: Problems;
    HistoryResponse?: HistoryResponse;
    WorkshopResponse?: WorkshopResponse;
    PulseResponse?: PulseResponse;
    SearchResponse?: SearchResponse;
    RestoredResponse?: RestoredResponse;
    StockResponse?: StockResponse;
    MemoryTestsResponse?: MemoryTestsResponse;
    ListingResponse?: ListingResponse;
    PartsResponse?: PartsResponse;
    SignalsResponse?: SignalsResponse;
    SelectResponse?: SelectResponse;
    PracticeResponse?: PracticeResponse;
    DrawingResponse?: DrawingResponse;
    RomResponse?: RomResponse;
    AdapterResponse?: AdapterResponse;
    BuiltResponse?: BuiltResponse;
    BusResponse?: BusResponse;
    CaptureResponse?: CaptureResponse;
    ReceivedResponse?: ReceivedResponse;
    SetupResponse?: SetupResponse;
    LadderResponse?: LadderResponse;
}
export interface BoardsResponse {
    boards: BoardSummary[];
}
export interface BoardSummary {
    slug: string;
    name: string;
    revision: string;
    summary: string;
    radix: Radix;
    chips: number;
    banks: number;
    dataWidth: number;
    addressWidth: number;
    shipped: boolean;
}
export interface BoardResponse {
    board: Board;
}
export interface Board {
    slug: string;
    name: string;
    revision: string;
    summary: string;
    radix: Radix;
    chips: number;
    banks: number;
    dataWidth: number;
    addressWidth: number;
    shipped: boolean;
    plan: Plan | null;
    assemblies: Assembly[];
    parts: BoardPart[];
    settings: Setting[];
    memoryBanks: MemoryBank[];
    map: MapRange[];
    screen: Screen | null;
    freeMemory: FreeMemory | null;
    diagnostics: Diagnostic[];
    rails: BoardRail[];
    signs: BoardSign[];
    functions: BoardFunction[];
    checks: Check[];
    processor: Processor | null;
}
export interface Plan {
    width: number;
    height: number;
    connectors: Connector[];
    holes: Point[];
}
export interface Connector {
    name: string;
    edge: 'top' | 'right' | 'bottom' | 'left';
    at: number;
    length: number;
}
export interface Point {
    x: number;
    y: number;
}
export interface Assembly {
    id: string;
    name: string;
    removable: boolean;
    needed: boolean;
    outline: Outline | null;
}
export interface Outline {
    x: number;
    y: number;
    width: number;
    height: number;
}
export interface BoardPart {
    ref: string;
    part: string;
    role: string;
    title: string;
    kind: string;
    pins: number;
    wide: boolean;
    assembly: string;
    socketed: boolean;
    x: number | null;
    y: number | null;
    turn: 0 | 90 | 180 | 270;
}
export interface Setting {
    ref: string;
    name: string;
    default: string;
    isLatch: boolean;
    positions: SettingPosition[];
    x: number | null;
    y: number | null;
}
export interface SettingPosition {
    name: string;
    changes: string;
}
export interface MemoryBank {
    name: string;
    width: number;
    firstLine: number;
    chipOfBit: ChipOfBit[];
    row: number[];
    column: number[];
    servedBy: Server[];
}
export interface ChipOfBit {
    bit: number;
    chip: string;
}
export interface Server {
    chip: string;
    role: 'select' | 'strobe' | 'multiplexer' | 'buffer' | 'refresh' | 'supply';
    lines: string[];
}
export interface MapRange {
    from: number;
    to: number;
    kind: RangeKind;
    name: string;
    bank: string | null;
    chip: string | null;
    access: 'read' | 'write' | 'any';
    page: number | null;
    when: {
        [k: string]: string[];
    };
    mask: number;
    value: number;
}
export interface Screen {
    from: number;
    columns: number;
    rows: number;
    pixels: number;
    hasCharacters: boolean;
}
export interface FreeMemory {
    healthy: number | null;
}
export interface Diagnostic {
    id: string;
    name: string;
    reports: 'flashes' | 'tones' | 'colour' | 'chips' | 'mask' | 'step';
    covers: [number, number][];
    codes: DiagnosticCode[];
    revision: string;
    names: string;
    minutes: number;
    insert: string;
    registers: string[];
}
export interface DiagnosticCode {
    code: string;
    name: string;
    bank: string | null;
    bit: number | null;
    chips: string[];
}
export interface BoardRail {
    name: string;
    volts: number;
    regulator: string;
}
export interface BoardSign {
    id: string;
    words: string;
    means: string;
    good: boolean;
    generic: boolean;
}
export interface BoardFunction {
    id: string;
    name: string;
    how: string;
    sites: string[];
    banks: string[];
}
export interface Check {
    words: string;
    site: string;
}
export interface Processor {
    chip: string;
    part: string;
    clockHz: number;
    basic: ('peek' | 'indirect') | null;
}
export interface JobsResponse {
    jobs: JobSummary[];
}
export interface JobSummary {
    id: string;
    machine: string;
    symptom: string;
    state: State;
    radix: Radix;
    board: BoardName;
    openedAt: string;
    changedAt: string;
    observations: number;
    readings: number;
    leading: Suspect | null;
}
export interface BoardName {
    slug: string;
    name: string;
    revision: string;
}
export interface Suspect {
    site: string;
    kind: SiteKind;
    share: number;
    because: string[];
    reasons: Reason[];
    seat: string | null;
    experience?: string;
}
export interface Reason {
    words: string;
    decibans: number;
    observation: string | null;
}
export interface JobResponse {
    job: Job;
}
export interface Job {
    id: string;
    machine: string;
    symptom: string;
    state: State;
    radix: Radix;
    board: BoardName;
    openedAt: string;
    changedAt: string;
    observations: number;
    readings: number;
    leading: Suspect | null;
    settings: {
        [k: string]: string;
    };
    log: LogEntry[];
    memory: Memory;
    suspects: Suspect[];
    done: {
        [k: string]: string;
    };
    rivals: Rival[];
    cured: Cured[];
    nothingLeft: number;
    steps: Step[];
    notices: string[];
    comparison: RunComparison | null;
    context: string[];
    conditions: string[];
    unplugged: string[];
    displaced: Displaced[];
    workshop: WorkshopOverride | null;
    assemblies: AssemblyShare[];
    verdicts: string[];
    setAside: SetAside[];
    held: string;
    round: RoundState;
    fitted: string;
    acknowledged: string[];
    timer: Timer | null;
    practice: Practice | null;
}
export interface LogEntry {
    id: string;
    sequence: number;
    kind: string;
    madeAt: string;
    withdrawnAt: string | null;
    title: string;
    notes: string[];
    unreadable: string | null;
    context: string[];
}
export interface Memory {
    readings: number;
    failed: number;
    outside: number;
    banks: Bank[];
    findings: MemoryFinding[];
    ruler: Ruler;
    table: ReadingRows;
    beforeTheParts: boolean;
    clearedChips: string[];
}
export interface Bank {
    name: string;
    from: number | null;
    to: number | null;
    bits: Bit[];
}
export interface Bit {
    bit: number;
    chip: string;
    tested: number;
    able: number;
    failed: number;
    stuck: Stuck;
    pattern: Pattern;
    patternWords: string;
    unstable: number;
    cleared: boolean;
}
export interface MemoryFinding {
    pattern: Pattern;
    scope: 'chip' | 'bank' | 'line';
    banks: string[];
    bits: number[];
    chips: string[];
    failed: number;
    able: number;
    confidence: number;
    sentence: string;
}
export interface Ruler {
    ranges: RulerRange[];
    failing: number[];
    tested: [number, number][];
    firstFailing: number[];
}
export interface RulerRange {
    from: number;
    to: number;
    kind: RangeKind;
    name: string;
    bank: string | null;
    linked: boolean;
}
export interface ReadingRows {
    rows: ReadingRow[];
    more: number;
}
export interface ReadingRow {
    address: number;
    expected: number;
    read: number;
    bits: 8 | 16 | 32;
    page: number | null;
    firstLine: number;
}
export interface Rival {
    sites: string[];
    share: number;
}
export interface Cured {
    site: string;
    share: number;
}
export interface Step {
    action: string;
    site: string;
    sentence: string;
    tells: string;
    minutes: number;
    risk: 'none' | 'handling' | 'borrowed' | 'heat' | 'irreversible';
    caution: string;
    bits: number;
    saves: number;
    outcomes: Outcome[];
    kind: 'measure' | 'contact' | 'swap' | 'repair';
    access: string;
    missing: string;
    cautions: StepCaution[];
}
export interface Outcome {
    words: string;
    chance: number;
    means: string;
    observation: NewObservation | null;
}
export interface NewObservation {
    kind: string;
    payload: {};
}
export interface StepCaution {
    kind: string;
    name: string;
    words: string;
}
export interface RunComparison {
    words: string;
    passed: boolean;
}
export interface Displaced {
    part: string;
    seat: string | null;
    borrowed: boolean;
}
export interface WorkshopOverride {
    school?: School;
    equipment?: string[];
    spares?: null | string[];
}
export interface AssemblyShare {
    id: string;
    name: string;
    share: number;
}
export interface SetAside {
    action: string;
    site: string;
    reason: string;
    words: string;
}
export interface RoundState {
    looks: LookSeen[];
    supply: Supply;
    heat: Heat;
    signs: Signs;
    proof: Proof;
    photos: Photo[];
    ledger: LedgerPart[];
    experience: string[];
    record: OwnerRecord;
    marks: {
        signals: 'wrong' | 'right' | null;
        traces: 'wrong' | 'right' | null;
        rom: 'wrong' | 'right' | null;
        bus: 'wrong' | 'right' | null;
    };
}
export interface LookSeen {
    site: string;
    finding: string;
    observation: string;
}
export interface Supply {
    measured: boolean;
    order: string[];
    rails: SupplyRail[];
}
export interface SupplyRail {
    name: string;
    volts: number;
    regulator: string;
    feeds: string[];
    nominalInput: number | null;
    rippleAllowed: number;
    min: number;
    max: number;
    budget: number;
    amps: number | null;
    input: number | null;
    drop: number | null;
    watts: number | null;
    problems: string[];
    notices: string[];
    measured: boolean;
    points: RailPoint[];
}
export interface RailPoint {
    site: string;
    pin: number | null;
    min: number;
    max: number;
    volts: number | null;
    ripple: number | null;
    unloaded: boolean;
    out: boolean;
    observation: string | null;
}
export interface Heat {
    room: number;
    roomMeasured: boolean;
    parts: WarmPart[];
}
export interface WarmPart {
    site: string;
    rise: number;
    overLike: number | null;
    verdict: '' | 'hot' | 'cold';
    words: string;
    felt: boolean;
    onlyWithFault: boolean;
    observation: string;
}
export interface Signs {
    rows: SignRow[];
    stable: boolean;
    words: string;
}
export interface SignRow {
    powerOn: number;
    minutes: number;
    sign: string;
    observation: string;
}
export interface Proof {
    confidence: number;
    shown: number;
    of: number;
    lower: number;
    upper: number;
    needed: number;
    clean: number;
    minutes: number;
    rateLeft: number | null;
    words: string;
    proved: boolean;
    open: {
        pin: string;
        to: string;
        net: string;
    }[];
    unmeasured: string[];
    functions: {
        id: string;
        wanted: boolean;
        works: boolean | null;
    }[];
}
export interface Photo {
    sha1: string;
    width: number;
    height: number;
    caption: string;
    observation: string;
    marks: PhotoMark[];
}
export interface PhotoMark {
    x: number;
    y: number;
    site: string;
    note: string;
    observation: string;
}
export interface LedgerPart {
    part: string;
    type: string;
    label: string;
    marked: boolean;
    places: {
        place: string;
        observation: string | null;
    }[];
    tests: {
        words: string;
        failed: boolean;
        observation: string;
    }[];
    now: string;
    seat: string | null;
    home: boolean;
    lent: boolean;
    where: string;
    mustReturn: string;
    suspected: boolean;
    faulty: number;
}
export interface OwnerRecord {
    found: string[];
    done: {
        site: string;
        part: string;
        what: string;
        why: string[];
    }[];
    remains: string[];
    borrowed: string[];
    tested: {
        name: string;
        result: string;
        good: boolean;
    }[];
    photos: {
        sha1: string;
        caption: string;
    }[];
}
export interface Timer {
    what: string;
    minutes: number;
    startedAt: string;
}
export interface Practice {
    seed: number;
    difficulty: number;
    minutes: number;
    steps: number;
    /**
     * The situation in which something was seen wrong; the machine is on yet.
     */
    failingIn: 'running' | 'free-run' | 'reset' | 'as-found' | 'selecting' | null;
    result: PracticeResult | null;
}
export interface PracticeResult {
    faults: string[];
    left: string[];
    goodSoldered: number;
    goodPulled: number;
    /**
     * The advice is at work on the same machine.
     */
    comparing: boolean;
    advice: {
        revived: boolean;
        steps: number;
        minutes: number;
        goodSoldered: number;
        goodPulled: number | null;
        told: string[];
    } | null;
}
export interface UnderstandResponse {
    understood: boolean;
    words: string;
}
export interface BenchLineResponse {
    words: string;
    job: Job;
}
export interface BenchFormsResponse {
    forms: BenchForm[];
}
export interface BenchForm {
    form: string;
    means: string;
}
export interface ImportedJobResponse {
    id: string;
}
export interface ImportedBoardResponse {
    board: BoardSummary;
}
export interface Problems {
    problems: Problem[];
}
export interface Problem {
    place: string;
    sentence: string;
}
export interface HistoryResponse {
    history: Move[];
}
export interface Move {
    sequence: number;
    shares: {
        [k: string]: number;
    };
}
export interface WorkshopResponse {
    workshop: WorkshopSettings;
    schools: Named[];
    equipment: Named[];
}
export interface WorkshopSettings {
    school: School;
    equipment: string[];
    spares: null | string[];
    stock: StockEntry[];
    confidence: number;
    hourlyCost: {
        amount: number;
        currency: string;
    } | null;
    radix: Radix | null;
    theme: 'system' | 'day' | 'lights-out';
    learns: boolean;
    name: string;
}
export interface StockEntry {
    part: string;
    count: number;
    drawer: string;
    nanoseconds: number | null;
}
export interface Named {
    value: string;
    words: string;
}
export interface PulseResponse {
    changedAt: string;
    observations: number;
}
export interface SearchResponse {
    found: Found[];
}
export interface Found {
    id: string;
    machine: string;
    symptom: string;
    state: State;
    board: string;
    openedAt: string;
    wrong: {
        site: string;
        part: string;
    }[];
    matched: string;
}
export interface RestoredResponse {
    restored: {
        jobs: number;
        observations: number;
        madeAt: string;
    };
}
export interface StockResponse {
    for: {
        part: string;
        needed: string[];
        matches: StockMatch[];
    }[];
}
export interface StockMatch {
    part: string;
    count: number;
    drawer: string;
    nanoseconds: number | null;
    works: boolean;
    but: string;
}
export interface MemoryTestsResponse {
    tests: MemoryTest[];
    languages: {
        value: string;
        words: string;
    }[];
}
export interface MemoryTest {
    id: string;
    name: string;
    length: number;
    words: string;
    finds: string[];
    misses: string[];
    backgrounds: number[];
    source: string;
}
export interface ListingResponse {
    listing: Listing;
}
export interface Listing {
    text: string;
    hex: string;
    from: number;
    to: number;
    at: number | null;
    results: number | null;
    duration: string;
    seconds: number;
    notes: string[];
}
export interface PartsResponse {
    parts: LibraryPart[];
}
export interface LibraryPart {
    name: string;
    title: string;
    kind: string;
    pins: number;
    wide: boolean;
    source: string;
    order: string;
    equations: string[];
    pinList: LibraryPin[];
    supply: {
        rail: string;
        pins: number[];
        min: number;
        max: number;
        milliamps: number;
    }[];
    levels: {
        inputLow: number;
        inputHigh: number;
        outputLow: number;
        outputHigh: number;
    } | null;
    equivalents: {
        number: string;
        works: boolean;
        but: string;
        nanoseconds: number | null;
    }[];
}
export interface LibraryPin {
    number: number;
    name: string;
    activeLow: boolean;
    direction: 'in' | 'out' | 'both' | 'supply' | 'passive' | 'none';
}
export interface SignalsResponse {
    signals: Signals;
}
export interface Signals {
    known: boolean;
    situation: 'reset' | 'free-run' | 'running' | 'as-found' | 'selecting';
    chips: {
        ref: string;
        part: string;
        role: string;
        share: number;
        wrong: number;
        probed: number;
    }[];
    chip: ProbedChip | null;
    path: SignalPath | null;
    continuity: Continuity | null;
    removal: {
        pin: string;
        to: string;
        net: string;
    }[];
    tested: {
        from: string;
        to: string;
        closed: boolean;
    }[];
    gates: {
        output: string;
        sentence: string;
    }[];
    clocks: Clock[];
    nets: {
        name: string;
        kind: string;
        pins: string[];
    }[];
}
export interface ProbedChip {
    ref: string;
    part: string;
    title: string;
    role: string;
    wide: boolean;
    kind: string;
    pinCount: number;
    pins: ChipPin[];
}
export interface ChipPin {
    pin: string;
    called: string;
    net: string | null;
    expected: 'low' | 'high' | 'pulsing' | 'silent' | 'between' | null;
    hz: string | null;
    by: 'simulation' | 'profile';
    seen: string | null;
    right: boolean | null;
    number: number;
    name: string;
    activeLow: boolean;
    direction: 'in' | 'out' | 'both' | 'supply' | 'passive' | 'none';
}
export interface SignalPath {
    net: string;
    stages: PathStage[];
    loads: SignalPin[];
    drivers: SignalPin[];
    removable: {
        site: string;
        how: string;
    }[];
    next: string | null;
    parts: number | null;
    breaks: boolean;
    between: null | {
        from: string;
        to: string;
        points: number;
    };
}
export interface PathStage {
    chip: string;
    part: string;
    role: string;
    inputs: SignalPin[];
    output: SignalPin;
}
export interface SignalPin {
    pin: string;
    called: string;
    net: string | null;
    expected: 'low' | 'high' | 'pulsing' | 'silent' | 'between' | null;
    hz: string | null;
    by: 'simulation' | 'profile';
    seen: string | null;
    right: boolean | null;
}
export interface Continuity {
    net: string;
    points: {
        pin: string;
        reached: 'yes' | 'no' | 'unknown';
    }[];
    test: {
        from: string;
        to: string;
    } | null;
    wire: {
        from: string;
        to: string;
    } | null;
    most: number;
}
export interface Clock {
    net: string;
    pin: string;
    from: string | null;
    hz: number;
    words: string;
    note: string;
    measured: string | null;
    says: string;
}
export interface SelectResponse {
    select: SelectCheck;
}
export interface SelectCheck {
    chip: string;
    address: string;
    select: string;
    reached: boolean;
    broken: string | null;
    stages: {
        chip: string;
        part: string;
        role: string;
        inputs: SelectLevel[];
        output: SelectLevel;
    }[];
}
export interface SelectLevel {
    pin: string;
    called: string;
    net: string;
    level: 'low' | 'high';
    seen: string | null;
}
export interface PracticeResponse {
    runs: PracticeEntry[];
    boards: {
        slug: string;
        name: string;
    }[];
}
export interface PracticeEntry {
    job: string;
    machine: string;
    board: string;
    seed: number;
    difficulty: number;
    minutes: number;
    steps: number;
    /**
     * The situation in which something was seen wrong; the machine is on yet.
     */
    failingIn: 'running' | 'free-run' | 'reset' | 'as-found' | 'selecting' | null;
    result: PracticeResult | null;
}
export interface DrawingResponse {
    board: Board;
    nets: {
        name: string;
        kind: string;
        pins: string[];
    }[];
    notices: {
        net: string;
        sentence: string;
    }[];
    forms: BenchForm[];
    before: string | null;
    said: string[];
}
export interface RomResponse {
    rom: Rom;
}
export interface Rom {
    chips: {
        ref: string;
        part: string;
        role: string;
        bytes: number;
        verdict: string | null;
    }[];
    chip: string | null;
    from: number;
    last: RomReading | null;
    earlier: {
        id: string;
        verdict: string;
        name: string;
        sha1: string;
    }[];
    goods: RomFile[];
}
export interface RomReading {
    id: string;
    where: string;
    reads: RomFile[];
    good: RomFile | null;
    verdict: string;
    words: string;
    bad: boolean | null;
    because: string[];
    bits: {
        bit: number;
        value: number;
    }[];
    byBit: {
        bit: number;
        toOnes: number;
        toZeros: number;
    }[];
    addressLines: number[];
    differences: number;
    first: number;
    map: number[];
    size: number;
    crc32: string;
    sum16: number;
    runs: {
        at: number;
        length: number;
    }[];
}
export interface RomFile {
    sha1: string;
    name: string;
}
export interface AdapterResponse {
    adapter: Adapter;
}
export interface Adapter {
    chip: string;
    socket: string;
    chipPins: number;
    socketPins: number;
    pins: {
        pin: number;
        name: string;
        under: number | null;
        to: number | null;
        how: 'join' | 'low' | 'high' | 'open';
        why: string;
        straight: boolean;
        goes: string;
    }[];
    notes: string[];
    selects: string[];
    types: string[];
}
export interface BuiltResponse {
    built: {
        bytes: number;
        crc32: string;
        sha1: string;
        sum16: number;
        head: string;
        tail: string;
    };
}
export interface BusResponse {
    bus: Bus;
}
export interface Bus {
    processor: string | null;
    signals: {
        signal: string;
        group: 'address' | 'data' | 'control';
    }[];
    named: boolean;
    captures: BusCapture[];
    against: {
        id: string;
        name: string;
    }[];
}
export interface BusCapture {
    id: string;
    name: string;
    role: 'sick' | 'good';
    state: 'uploading' | 'waiting' | 'decoding' | 'decoded' | 'failed' | 'cancelled';
    size: number;
    progress: number;
    cycles: number | null;
    channels: string[];
    map: {
        [k: string]: string;
    };
    lines: {
        signal: string;
        words: string;
    }[];
    problems: Problem[];
    setup: BusSetup | null;
    distance: number | null;
    parted: boolean | null;
    proof: 'right' | 'wrong' | 'unchecked';
}
export interface BusSetup {
    right: boolean;
    sure: number;
    because: string[];
    doubt: string;
    channels: ChannelState[];
    map: {
        [k: string]: string;
    };
    against: string;
}
export interface ChannelState {
    channel: string;
    inverted: boolean;
    state: 'live' | 'stuck' | 'unconnected';
    is: string | null;
}
export interface CaptureResponse {
    capture: string;
}
export interface ReceivedResponse {
    received: number;
}
export interface SetupResponse {
    setup: BusSetup;
}
export interface LadderResponse {
    ladder: Ladder;
}
export interface Ladder {
    capture: string;
    against: string;
    cycles: number;
    distance: number;
    skipped: number;
    addressBits: number;
    dataBits: number;
    partly: boolean;
    divergence: {
        cycle: number;
        kind: string;
        address: number | null;
        expected: number | null;
        seen: number | null;
        bits: number[];
        words: string;
        next: {
            chip: string;
            address: number;
            words: string;
        } | null;
        title: string;
    } | null;
    rungs: Rung[];
}
export interface Rung {
    number: number | null;
    should: BusCycle | null;
    named: string;
    parts: boolean;
    is: BusCycle | null;
    same: boolean | null;
}
export interface BusCycle {
    kind: string;
    address: number;
    data: number;
}
