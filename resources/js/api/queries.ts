import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query';
import { bytes, download, get, patch, post, send } from './client';
import type {
    AdapterResponse,
    BenchFormsResponse,
    BenchLineResponse,
    BoardResponse,
    BoardsResponse,
    BuiltResponse,
    BusResponse,
    CaptureResponse,
    DrawingResponse,
    HistoryResponse,
    ImportedBoardResponse,
    ImportedJobResponse,
    Job,
    JobResponse,
    JobsResponse,
    LadderResponse,
    ListingResponse,
    MemoryTestsResponse,
    PartsResponse,
    PracticeResponse,
    PulseResponse,
    ReceivedResponse,
    Radix,
    RestoredResponse,
    RomResponse,
    SearchResponse,
    SelectResponse,
    SetupResponse,
    SignalsResponse,
    State,
    StockResponse,
    UnderstandResponse,
    WorkshopOverride,
    WorkshopResponse,
    WorkshopSettings,
} from './schemas';

export const jobsQuery = queryOptions({ queryKey: ['jobs'], queryFn: async () => (await get<JobsResponse>('jobs')).jobs });

export const jobQuery = (id: string) =>
    queryOptions({ queryKey: ['job', id], queryFn: async () => (await get<JobResponse>(`jobs/${id}`)).job });

export const historyQuery = (id: string, basis: string) =>
    queryOptions({
        queryKey: ['history', id, basis],
        queryFn: async () => (await get<HistoryResponse>(`jobs/${id}/history`)).history,
        staleTime: Infinity,
    });

export const boardsQuery = queryOptions({ queryKey: ['boards'], queryFn: async () => (await get<BoardsResponse>('boards')).boards });

export const boardQuery = (slug: string) =>
    queryOptions({ queryKey: ['board', slug], queryFn: async () => (await get<BoardResponse>(`boards/${slug}`)).board, staleTime: 60_000 });

export const drawingQuery = (slug: string) =>
    queryOptions({ queryKey: ['drawing', slug], queryFn: () => get<DrawingResponse>(`boards/${slug}/drawing`) });

export const workshopQuery = queryOptions({ queryKey: ['workshop'], queryFn: () => get<WorkshopResponse>('workshop') });

export const formsQuery = queryOptions({
    queryKey: ['bench-forms'],
    queryFn: async () => (await get<BenchFormsResponse>('bench-forms')).forms,
    staleTime: Infinity,
});

export const understandQuery = (job: string, line: string, basis: string) =>
    queryOptions({
        queryKey: ['understand', job, line, basis],
        queryFn: () => post<UnderstandResponse>(`jobs/${job}/bench-line/understand`, { line }),
        staleTime: Infinity,
    });

export const practiceQuery = queryOptions({ queryKey: ['practice'], queryFn: () => get<PracticeResponse>('practice') });

/** The probing instrument: anew for every change of the job. */
export const signalsQuery = (job: string, situation: string, chip: string, net: string, basis: string) =>
    queryOptions({
        queryKey: ['signals', job, situation, chip, net, basis],
        queryFn: async () =>
            (await get<SignalsResponse>(`jobs/${job}/signals?${new URLSearchParams({ situation, chip, net }).toString()}`)).signals,
        staleTime: Infinity,
    });

export const selectQuery = (job: string, chip: string, address: string, basis: string) =>
    queryOptions({
        queryKey: ['select', job, chip, address, basis],
        queryFn: async () =>
            (await get<SelectResponse>(`jobs/${job}/signals/select?${new URLSearchParams({ chip, address }).toString()}`)).select,
        staleTime: Infinity,
    });

/** The ROM stage: one chip, its reads and what they come to. */
export const romQuery = (job: string, chip: string, basis: string) =>
    queryOptions({
        queryKey: ['rom', job, chip, basis],
        queryFn: async () => (await get<RomResponse>(`jobs/${job}/rom?${new URLSearchParams({ chip }).toString()}`)).rom,
        staleTime: Infinity,
    });

/** The captures of a job; asked again while one of them is under way. */
export const busQuery = (job: string) =>
    queryOptions({
        queryKey: ['bus', job],
        queryFn: async () => (await get<BusResponse>(`jobs/${job}/bus`)).bus,
        refetchInterval: (query) =>
            query.state.data?.captures.some((capture) => ['uploading', 'waiting', 'decoding'].includes(capture.state)) ? 700 : false,
    });

export const ladderQuery = (capture: string, against: string, basis: string) =>
    queryOptions({
        queryKey: ['ladder', capture, against, basis],
        queryFn: async () =>
            (await get<LadderResponse>(`captures/${capture}/ladder?${new URLSearchParams({ against }).toString()}`)).ladder,
        staleTime: Infinity,
        retry: false,
    });

/** A piece of a capture that is sent at once, in bytes. */
const piece = 2 * 1024 * 1024;

/** Sends a capture piece by piece; what came of it shows in the list. */
export function useSendCapture(job: string) {
    const cache = useQueryClient();
    const refresh = () => cache.invalidateQueries({ queryKey: busQuery(job).queryKey });
    return useMutation({
        mutationFn: async ({ file, role }: { file: File; role: string }) => {
            const { capture } = await post<CaptureResponse>(`jobs/${job}/captures`, { name: file.name, size: file.size, role });
            await refresh();
            for (let from = 0; from < file.size; from += piece) {
                await send<ReceivedResponse>('POST', `captures/${capture}/piece?from=${from}`, file.slice(from, from + piece));
            }
            return capture;
        },
        onSettled: refresh,
    });
}

/** What is done to a capture; the answer is the whole list. */
export function useCapture(job: string) {
    const cache = useQueryClient();
    return useMutation({
        mutationFn: ({
            id,
            act,
            ...change
        }: {
            id: string;
            act: 'cancel' | 'remove' | 'change';
            role?: string;
            map?: Record<string, string>;
        }) => (act === 'change' ? patch<BusResponse>(`captures/${id}`, change) : post<BusResponse>(`captures/${id}/${act}`)),
        onSuccess: ({ bus }) => {
            cache.setQueryData(busQuery(job).queryKey, bus);
            void cache.invalidateQueries({ queryKey: ['ladder'] });
        },
    });
}

export function useCheckSetup(job: string) {
    const cache = useQueryClient();
    return useMutation({
        mutationFn: ({ id, against }: { id: string; against: string }) => post<SetupResponse>(`captures/${id}/check`, { against }),
        onSuccess: () => void cache.invalidateQueries({ queryKey: busQuery(job).queryKey }),
    });
}

export function useRecordCapture(job: string) {
    const cache = useQueryClient();
    return useJobWrite(job, async ({ id, against }: { id: string; against: string }) => {
        const answer = await post<JobResponse>(`captures/${id}/record`, { against });
        void cache.invalidateQueries({ queryKey: busQuery(job).queryKey });
        return answer;
    });
}

/** The bytes of an image; they never change under their SHA-1. */
export const imageQuery = (sha1: string) =>
    queryOptions({ queryKey: ['image', sha1], queryFn: () => bytes(`rom/${sha1}`), staleTime: Infinity, gcTime: 60_000 });

export const adapterQuery = (chip: string, socket: string, selects: Record<string, string>) =>
    queryOptions({
        queryKey: ['adapter', chip, socket, selects],
        queryFn: async () => {
            const wanted = new URLSearchParams({ chip, socket });
            Object.entries(selects).forEach(([name, level]) => wanted.set(`selects[${name}]`, level));
            return (await get<AdapterResponse>(`adapter?${wanted.toString()}`)).adapter;
        },
        staleTime: Infinity,
    });

export const useReadRom = (id: string) => useJobWrite(id, (form: FormData) => post<JobResponse>(`jobs/${id}/rom`, form));

export interface BuildRequest {
    sources: string[];
    steps: Record<string, string>[];
}

export const useBuild = () => useMutation({ mutationFn: (request: BuildRequest) => post<BuiltResponse>('rom/build', request) });

export const useBuiltFile = () =>
    useMutation({ mutationFn: (request: BuildRequest & { format: string }) => download('rom/build', request) });

/** Every answer to a write carries the whole job; it takes the place of the one in the cache at once. */
function useJobWrite<Input, Answer extends { job: Job }>(id: string, write: (input: Input) => Promise<Answer>) {
    const cache = useQueryClient();
    return useMutation({
        mutationFn: write,
        onSuccess: ({ job }) => {
            cache.setQueryData(jobQuery(id).queryKey, job);
            void cache.invalidateQueries({ queryKey: jobsQuery.queryKey });
        },
    });
}

export const useRecord = (id: string) =>
    useJobWrite(id, (observation: { kind: string; payload: object }) => post<JobResponse>(`jobs/${id}/observations`, observation));

/** An instrument of the practice bench answers into the log. */
export const useTake = (id: string) =>
    useJobWrite(id, (input: Record<string, string>) => post<JobResponse>(`jobs/${id}/practice/take`, input));

/** A step as it is advised, taken on the practice bench. */
export const useTakeStep = (id: string) =>
    useJobWrite(id, (step: { action: string; site: string; sentence: string }) => post<JobResponse>(`jobs/${id}/practice/step`, step));

/** The analyser of the practice bench: the recording comes among those of the job. */
export const useSimulateCapture = (id: string) => {
    const cache = useQueryClient();
    return useJobWrite(id, async (role: string) => {
        const answer = await post<JobResponse>(`jobs/${id}/practice/capture`, { role });
        await cache.invalidateQueries({ queryKey: busQuery(id).queryKey });
        return answer;
    });
};

export const useFinishPractice = (id: string) => useJobWrite<void, JobResponse>(id, () => post<JobResponse>(`jobs/${id}/practice/finish`));

export function useBeginPractice() {
    const cache = useQueryClient();
    return useMutation({
        mutationFn: (input: { board: string; difficulty: number; seed: number }) => post<JobResponse>('practice', input),
        onSuccess: () => void cache.invalidateQueries({ queryKey: practiceQuery.queryKey }),
    });
}

export const useRecordFile = (id: string) => useJobWrite(id, (form: FormData) => post<JobResponse>(`jobs/${id}/observations/file`, form));

export const usePhoto = (id: string) => useJobWrite(id, (form: FormData) => post<JobResponse>(`jobs/${id}/photos`, form));

/** Asked every second and a half: what another window or device did to the job shows here at once. */
export const pulseQuery = (id: string) =>
    queryOptions({
        queryKey: ['pulse', id],
        queryFn: () => get<PulseResponse>(`jobs/${id}/pulse`),
        refetchInterval: 1500,
        refetchIntervalInBackground: true,
        retry: false,
    });

export const memoryTestsQuery = queryOptions({
    queryKey: ['memory-tests'],
    queryFn: () => get<MemoryTestsResponse>('memory-tests'),
    staleTime: Infinity,
});

export const listingQuery = (id: string, wanted: Record<string, string>) =>
    queryOptions({
        queryKey: ['listing', id, wanted],
        queryFn: async () => (await get<ListingResponse>(`jobs/${id}/listing?${new URLSearchParams(wanted)}`)).listing,
        staleTime: Infinity,
    });

export const partsQuery = queryOptions({
    queryKey: ['parts'],
    queryFn: async () => (await get<PartsResponse>('parts')).parts,
    staleTime: Infinity,
});

export const searchQuery = (text: string) =>
    queryOptions({
        queryKey: ['search', text],
        queryFn: async () => (await get<SearchResponse>(`search?q=${encodeURIComponent(text)}`)).found,
        enabled: text.trim().length > 1,
    });

export const stockQuery = (id: string, basis: string) =>
    queryOptions({ queryKey: ['stock', id, basis], queryFn: async () => (await get<StockResponse>(`jobs/${id}/stock`)).for });

export const useBenchLine = (id: string) => useJobWrite(id, (line: string) => post<BenchLineResponse>(`jobs/${id}/bench-line`, { line }));

export const useWithdraw = (id: string) =>
    useJobWrite(id, (entry: string) => post<JobResponse>(`jobs/${id}/observations/${entry}/withdraw`));

export const useRestore = (id: string) => useJobWrite(id, (entry: string) => post<JobResponse>(`jobs/${id}/observations/${entry}/restore`));

export type JobChanges = {
    radix?: Radix;
    state?: State;
    symptom?: string;
    machine?: string;
    fitted?: string;
    workshop?: WorkshopOverride | null;
    acknowledge?: string;
    timer?: { what: string; minutes: number } | null;
    /** Texts as they stood here: one that was changed elsewhere meanwhile is not overwritten. */
    seen?: { machine?: string; symptom?: string; fitted?: string };
};

export const useUpdateJob = (id: string) => useJobWrite(id, (changes: JobChanges) => patch<JobResponse>(`jobs/${id}`, changes));

export function useUpdateWorkshop() {
    const cache = useQueryClient();
    return useMutation({
        mutationFn: (changes: Partial<WorkshopSettings>) => patch<WorkshopResponse>('workshop', changes),
        onSuccess: (answer) => {
            cache.setQueryData(workshopQuery.queryKey, answer);
            void cache.invalidateQueries({ queryKey: ['job'] });
        },
    });
}

export function useNewJob() {
    const cache = useQueryClient();
    return useMutation({
        mutationFn: (job: { machine: string; board: string; symptom: string; radix?: Radix }) => post<JobResponse>('jobs', job),
        onSuccess: () => cache.invalidateQueries({ queryKey: jobsQuery.queryKey }),
    });
}

export function useImportJob() {
    const cache = useQueryClient();
    return useMutation({
        mutationFn: (file: File) => post<ImportedJobResponse>('jobs/import', formOf({ file })),
        onSuccess: () => cache.invalidateQueries(),
    });
}

export function useRestoreBackup() {
    const cache = useQueryClient();
    return useMutation({
        mutationFn: (file: File) => post<RestoredResponse>('restore', formOf({ file })),
        onSuccess: () => cache.invalidateQueries(),
    });
}

export function useImportBoard() {
    const cache = useQueryClient();
    return useMutation({
        mutationFn: (file: File) => post<ImportedBoardResponse>('boards', formOf({ file })),
        onSuccess: () => cache.invalidateQueries(),
    });
}

export function formOf(fields: Record<string, string | File | undefined>): FormData {
    const form = new FormData();
    for (const [name, value] of Object.entries(fields)) {
        if (value !== undefined && value !== '') {
            form.set(name, value);
        }
    }
    return form;
}
