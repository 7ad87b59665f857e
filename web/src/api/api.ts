import type {
  Account,
  AsBuiltChanges,
  Attachment,
  Callout,
  CalloutEdit,
  ClosureHistory,
  Credentials,
  FirstAccount,
  KitRecord,
  NewAccount,
  NewApproval,
  NewCallout,
  NewObservation,
  NewPlan,
  NewSignOff,
  Observation,
  Corrections,
  NewCorrection,
  OpenBook,
  OpenBookRecord,
  RecordFindings,
  Plan,
  PlantRecord,
  SessionState,
  ShotStages,
  SignOff,
  SimulatedShot,
  StepTime,
  CableProofRecord,
  CableSurveyRecord,
  SurveyReading,
  SurveyRole,
  SurveyUpload,
  TraceRecord,
  TraceUpload,
  VerdictRecord,
} from '@cold-thread/contract'
import type { Kit } from '@cold-thread/core/kit'
import type { WatchedAttempt } from '@cold-thread/core/join'
import type { PlantBundle } from '@cold-thread/core/plant'
import type { LossBaseline, MadeCheck } from '@cold-thread/core/prove'
import { createApi, fetchBaseQuery, type BaseQueryApi, type FetchBaseQueryError } from '@reduxjs/toolkit/query/react'
import { enter } from '../field/enter.ts'
import { enterAttachment, type EnteredAttachment } from '../field/enterAttachment.ts'
import { enterTrace, type EnteredTrace } from '../field/enterTrace.ts'
import { fieldStore, type OutboxEntry } from '../field/fieldStore.ts'
import { withKeptAnswers } from '../field/keptAnswers.ts'
import type { Delivery } from '../field/outbox.ts'
import { isFull } from '../field/room.ts'
import { Sender } from '../field/sender.ts'
import { withWaiting, withWaitingObservations, type LoggedObservation } from '../field/waitingEntries.ts'

type WithId<T> = T & { id: string }
type OfCallout<T> = T & { calloutId: string; id: string }

/** The one that sends what was entered on this device. */
export const sender = new Sender(fieldStore)

/** Everything the pages ask of the server. Ids of what is made are made here, so that a repeated write does no harm. */
export const api = createApi({
  reducerPath: 'api',
  baseQuery: withKeptAnswers(fetchBaseQuery({ baseUrl: '/api' }), fieldStore, readAnew),
  tagTypes: [
    'Session',
    'Accounts',
    'Plant',
    'Callouts',
    'Traces',
    'Log',
    'Verdict',
    'Survey',
    'Kit',
    'OpenBook',
    'Plans',
    'Attachments',
  ],
  endpoints: (build) => ({
    session: build.query<SessionState, void>({ query: () => 'session', providesTags: ['Session'] }),
    signIn: build.mutation<SessionState, Credentials>({
      query: (body) => ({ url: 'session', method: 'POST', body }),
      invalidatesTags: [
        'Session',
        'Accounts',
        'Plant',
        'Callouts',
        'Traces',
        'Log',
        'Verdict',
        'Kit',
        'OpenBook',
        'Plans',
        'Attachments',
      ],
    }),
    signOut: build.mutation<SessionState, void>({
      query: () => ({ url: 'session', method: 'DELETE' }),
      invalidatesTags: ['Session'],
    }),
    setUp: build.mutation<SessionState, FirstAccount>({
      query: (body) => ({ url: 'setup', method: 'POST', body }),
      invalidatesTags: ['Session'],
    }),
    accounts: build.query<Account[], void>({ query: () => 'accounts', providesTags: ['Accounts'] }),
    addAccount: build.mutation<Account, NewAccount>({
      query: ({ id, ...body }) => ({ url: `accounts/${id}`, method: 'PUT', body }),
      invalidatesTags: ['Accounts'],
    }),
    plant: build.query<PlantRecord, void>({ query: () => 'plant', providesTags: ['Plant'] }),
    savePlant: build.mutation<PlantRecord, { bundle: PlantBundle; version: number }>({
      query: (body) => ({ url: 'plant', method: 'PUT', body }),
      invalidatesTags: ['Plant'],
    }),
    corrections: build.query<Corrections, void>({ query: () => 'plant/corrections', providesTags: ['Plant'] }),
    recordFindings: build.query<RecordFindings, void>({
      query: () => 'plant/findings',
      providesTags: ['Plant', 'Log'],
    }),
    correctRecord: build.mutation<PlantRecord, NewCorrection>({
      query: (body) => ({ url: 'plant/corrections', method: 'POST', body }),
      invalidatesTags: ['Plant'],
    }),
    address: build.query<{ publicAddress: string | null }, void>({ query: () => 'address' }),
    kit: build.query<KitRecord, void>({ query: () => 'kit', providesTags: ['Kit'] }),
    saveKit: build.mutation<KitRecord, { kit: Kit; version: number }>({
      query: (body) => ({ url: 'kit', method: 'PUT', body }),
      invalidatesTags: ['Kit'],
    }),
    openBook: build.query<OpenBookRecord, void>({ query: () => 'open-book', providesTags: ['OpenBook'] }),
    saveOpenBook: build.mutation<OpenBookRecord, { book: OpenBook; version: number }>({
      query: (body) => ({ url: 'open-book', method: 'PUT', body }),
      invalidatesTags: ['OpenBook'],
    }),
    closureHistory: build.query<ClosureHistory, string>({
      query: (node) => `closures/${encodeURIComponent(node)}/history`,
      providesTags: ['Log'],
    }),
    usualOfSplicer: build.query<WatchedAttempt[], { splicer: string; cleaver: string | null }>({
      query: ({ splicer, cleaver }) =>
        `splicers/${encodeURIComponent(splicer)}/usual${cleaver === null ? '' : `?cleaver=${encodeURIComponent(cleaver)}`}`,
    }),
    plans: build.query<Plan[], string>({ query: (id) => `callouts/${id}/plans`, providesTags: ['Plans'] }),
    addPlan: build.mutation<Plan, OfCallout<{ plan: NewPlan }>>({
      query: ({ calloutId, id, plan }) => ({ url: `callouts/${calloutId}/plans/${id}`, method: 'PUT', body: plan }),
      invalidatesTags: ['Plans', 'Callouts'],
    }),
    approvePlan: build.mutation<Plan, OfCallout<{ approval: NewApproval }>>({
      query: ({ calloutId, id, approval }) => ({
        url: `callouts/${calloutId}/plans/${id}/approval`,
        method: 'PUT',
        body: approval,
      }),
      invalidatesTags: ['Plans', 'Callouts'],
    }),
    stepTimes: build.query<StepTime[], void>({ query: () => 'step-times', providesTags: ['Log'] }),
    callouts: build.query<Callout[], void>({ query: () => 'callouts', providesTags: ['Callouts'] }),
    callout: build.query<Callout, string>({ query: (id) => `callouts/${id}`, providesTags: ['Callouts'] }),
    addCallout: build.mutation<Callout, WithId<NewCallout>>({
      query: ({ id, ...body }) => ({ url: `callouts/${id}`, method: 'PUT', body }),
      invalidatesTags: ['Callouts'],
    }),
    editCallout: build.mutation<Callout, WithId<CalloutEdit>>({
      query: ({ id, ...body }) => ({ url: `callouts/${id}`, method: 'PATCH', body }),
      invalidatesTags: ['Callouts'],
    }),
    /** With those that wait on this device. */
    traces: build.query<TraceRecord[], string>({
      queryFn: async (id, _api, _extra, base) => {
        const { data, error } = await base(`callouts/${id}/traces`)
        return error ? { error } : { data: await withWaiting(fieldStore, id, data as TraceRecord[], waitingTrace) }
      },
      providesTags: ['Traces'],
    }),
    /** Photos and files, with those that wait on this device. */
    attachments: build.query<Attachment[], string>({
      queryFn: async (id, _api, _extra, base) => {
        const { data, error } = await base(`callouts/${id}/attachments`)
        return error ? { error } : { data: await withWaiting(fieldStore, id, data as Attachment[], waitingAttachment) }
      },
      providesTags: ['Attachments'],
    }),
    /** Kept on this device first, then sent. */
    addAttachment: build.mutation<null, EnteredAttachment>({
      queryFn: async (one, { getState }) => kept(enterAttachment(fieldStore, sender, one, enteredBy(getState()))),
      invalidatesTags: ['Attachments'],
    }),
    withdrawAttachment: build.mutation<Attachment, string>({
      query: (id) => ({ url: `attachments/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Attachments'],
    }),
    baselines: build.query<TraceRecord[], string>({
      query: (linkId) => `links/${encodeURIComponent(linkId)}/baselines`,
      providesTags: ['Traces'],
    }),
    /** Read and kept on this device first, then sent. */
    uploadTrace: build.mutation<null, EnteredTrace>({
      queryFn: async (trace, { getState }) => kept(enterTrace(fieldStore, sender, trace, enteredBy(getState()))),
      invalidatesTags: ['Traces', 'Callouts', 'Verdict'],
    }),
    uploadBaseline: build.mutation<TraceRecord, { linkId: string; id: string; facts: TraceUpload; file: Blob }>({
      query: ({ linkId, id, facts, file }) =>
        upload(`links/${encodeURIComponent(linkId)}/baselines/${id}`, facts, file),
      invalidatesTags: ['Traces', 'Verdict'],
    }),
    shoot: build.mutation<TraceRecord, OfCallout<{ shot: SimulatedShot }>>({
      query: ({ calloutId, id, shot }) => ({ url: `callouts/${calloutId}/shots/${id}`, method: 'PUT', body: shot }),
      invalidatesTags: ['Traces', 'Callouts', 'Verdict'],
    }),
    shotStages: build.query<ShotStages, OfCallout<{ shot: SimulatedShot }>>({
      query: ({ calloutId, id, shot }) => ({ url: `callouts/${calloutId}/shots/${id}`, params: shot }),
    }),
    withdrawTrace: build.mutation<TraceRecord, string>({
      query: (id) => ({ url: `traces/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Traces', 'Callouts', 'Verdict'],
    }),
    survey: build.query<CableSurveyRecord | null, string>({
      query: (id) => `callouts/${id}/survey`,
      providesTags: ['Survey'],
    }),
    /** One file of many: the survey is asked for anew when all have gone. */
    uploadSurveyTrace: build.mutation<SurveyReading, OfCallout<{ facts: SurveyUpload; file: Blob }>>({
      query: ({ calloutId, id, facts, file }) => upload(`callouts/${calloutId}/survey/${id}`, facts, file),
    }),
    withdrawSurvey: build.mutation<null, { calloutId: string; role: SurveyRole }>({
      query: ({ calloutId, role }) => ({ url: `callouts/${calloutId}/survey`, method: 'DELETE', params: { role } }),
      invalidatesTags: ['Survey', 'Verdict'],
    }),
    lossBaselines: build.query<LossBaseline[], string>({
      query: (id) => `callouts/${id}/loss-baselines`,
      providesTags: ['Callouts'],
    }),
    /** Daily checks of other callouts. */
    sourceChecks: build.query<MadeCheck[], string>({
      query: (id) => `callouts/${id}/source-checks`,
      providesTags: ['Callouts'],
    }),
    /** Every fiber after the repair, as far as the server has judged them. */
    cableProof: build.query<CableProofRecord | null, string>({
      query: (id) => `callouts/${id}/cable-proof`,
      providesTags: ['Survey', 'Log'],
    }),
    /** With those that wait on this device. */
    observations: build.query<LoggedObservation[], string>({
      queryFn: async (id, _api, _extra, base) => {
        const { data, error } = await base(`callouts/${id}/observations`)
        return error ? { error } : { data: await withWaitingObservations(fieldStore, id, data as Observation[]) }
      },
      providesTags: ['Log'],
    }),
    /** Kept on this device first, then sent: done when it is kept, or when the server has refused it. */
    addObservation: build.mutation<null, OfCallout<{ observation: NewObservation }>>({
      queryFn: async ({ calloutId, id, observation }, { getState }) =>
        kept(
          enter(fieldStore, sender, {
            ...enteredBy(getState()),
            kind: 'observation',
            id,
            calloutId,
            observation,
          }),
        ),
      invalidatesTags: ['Log', 'Callouts', 'Verdict'],
    }),
    verdict: build.query<VerdictRecord, string>({ query: (id) => `callouts/${id}/verdict`, providesTags: ['Verdict'] }),
    signOff: build.query<SignOff | null, string>({
      query: (id) => `callouts/${id}/sign-off`,
      providesTags: ['Verdict'],
    }),
    takeInCallout: build.mutation<Callout, Blob>({
      query: (body) => ({
        url: 'callouts',
        method: 'POST',
        body,
        headers: { 'content-type': 'application/octet-stream' },
      }),
      invalidatesTags: ['Callouts', 'Plant', 'Traces', 'Log', 'Verdict', 'Attachments', 'Plans'],
    }),
    asBuilt: build.query<AsBuiltChanges, string>({
      query: (id) => `callouts/${id}/as-built`,
      providesTags: ['Verdict', 'Plant'],
    }),
    addSignOff: build.mutation<SignOff, OfCallout<{ signOff: NewSignOff }>>({
      query: ({ calloutId, id, signOff }) => ({
        url: `callouts/${calloutId}/sign-off/${id}`,
        method: 'PUT',
        body: signOff,
      }),
      // The record as built and the new baseline come with it.
      invalidatesTags: ['Verdict', 'Callouts', 'Plant', 'Traces'],
    }),
  }),
})

/** What an answer's path is kept under, to be read anew when it came late. */
function readAnew(path: string, { dispatch }: Pick<BaseQueryApi, 'dispatch'>): void {
  const last = path.split('/').at(-1)!
  const tags: Record<string, Parameters<typeof api.util.invalidateTags>[0]> = {
    session: ['Session'],
    plant: ['Plant'],
    kit: ['Kit'],
    'open-book': ['OpenBook'],
    'step-times': ['Log'],
    observations: ['Log'],
    history: ['Log'],
    traces: ['Traces'],
    attachments: ['Attachments'],
    plans: ['Plans'],
    survey: ['Survey'],
    'sign-off': ['Verdict'],
  }
  dispatch(api.util.invalidateTags(tags[last] ?? ['Callouts']))
}

const waitingTrace = (entry: OutboxEntry) => (entry.kind === 'trace' ? entry.record : null)
const waitingAttachment = (entry: OutboxEntry) => (entry.kind === 'attachment' ? entry.record : null)

/** Who enters, and when. */
function enteredBy(state: unknown): { accountId: string; by: string; enteredAt: string } {
  const account = api.endpoints.session.select()(
    state as Parameters<ReturnType<typeof api.endpoints.session.select>>[0],
  ).data?.account
  return {
    accountId: account?.id ?? sender.account ?? '',
    by: account?.displayName ?? '',
    enteredAt: new Date().toISOString(),
  }
}

/** Entered only when it is kept: a device that can't says so, and the form keeps what was typed. */
async function kept(delivery: Promise<Delivery>): Promise<{ data: null } | { error: FetchBaseQueryError }> {
  try {
    return entered(await delivery)
  } catch (problem) {
    const message = isFull(problem)
      ? 'This device is full: the entry is not kept. Make room (outbox, “Drop what was taken along”) and enter it again.'
      : 'This device can’t keep the entry: it is not entered.'
    return { error: { status: 'CUSTOM_ERROR', error: message, data: { code: 'internal', message } } }
  }
}

/** What a form hears: a refusal with its reason; anything else is in safe hands. */
function entered(delivery: Delivery): { data: null } | { error: FetchBaseQueryError } {
  if (delivery.outcome !== 'refused') return { data: null }
  const { refusal } = delivery
  return { error: { status: 422, data: refusal } }
}

function upload(path: string, facts: TraceUpload | SurveyUpload, file: Blob) {
  const query = new URLSearchParams()
  for (const [key, value] of Object.entries(facts)) if (value !== undefined) query.set(key, String(value))
  return { url: `${path}?${query}`, method: 'PUT', body: file, headers: { 'content-type': 'application/octet-stream' } }
}

export const {
  useSessionQuery,
  useSignInMutation,
  useSignOutMutation,
  useSetUpMutation,
  useAccountsQuery,
  useAddAccountMutation,
  usePlantQuery,
  useSavePlantMutation,
  useAddressQuery,
  useKitQuery,
  useSaveKitMutation,
  useCorrectionsQuery,
  useRecordFindingsQuery,
  useCorrectRecordMutation,
  useOpenBookQuery,
  useUsualOfSplicerQuery,
  useSaveOpenBookMutation,
  useClosureHistoryQuery,
  usePlansQuery,
  useAddPlanMutation,
  useApprovePlanMutation,
  useStepTimesQuery,
  useCalloutsQuery,
  useCalloutQuery,
  useAddCalloutMutation,
  useEditCalloutMutation,
  useTracesQuery,
  useAttachmentsQuery,
  useAddAttachmentMutation,
  useWithdrawAttachmentMutation,
  useBaselinesQuery,
  useUploadTraceMutation,
  useUploadBaselineMutation,
  useShootMutation,
  useShotStagesQuery,
  useWithdrawTraceMutation,
  useSurveyQuery,
  useUploadSurveyTraceMutation,
  useWithdrawSurveyMutation,
  useCableProofQuery,
  useLossBaselinesQuery,
  useSourceChecksQuery,
  useObservationsQuery,
  useAddObservationMutation,
  useVerdictQuery,
  useAsBuiltQuery,
  useTakeInCalloutMutation,
  useSignOffQuery,
  useAddSignOffMutation,
} = api
