import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { lazy, StrictMode, Suspense } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, Link, type RouteObject, RouterProvider } from 'react-router';
import '../css/app.css';
import { Refused } from './api/client';
import { Broken } from './home/Broken';
import Home from './home/Home';
import { HintProvider } from './ui';
import { applyTheme } from './ui/theme';

const JobPage = lazy(() => import('./job/JobPage'));
const Boards = lazy(() => import('./boards/Boards'));
const BoardEditor = lazy(() => import('./boards/BoardEditor'));
const Practice = lazy(() => import('./practice/Practice'));
const Parts = lazy(() => import('./parts/Parts'));
const Workshop = lazy(() => import('./workshop/Workshop'));
const BoardPage = lazy(() => import('./boards/BoardPage'));

applyTheme();

const cache = new QueryClient({
    defaultOptions: {
        queries: { retry: (times, error) => !(error instanceof Refused) && times < 2, refetchOnWindowFocus: true },
        mutations: { retry: false },
    },
});

const pages: RouteObject[] = [
    { path: '/', element: <Home /> },
    { path: '/jobs/:id/:stage?', element: <JobPage /> },
    { path: '/workshop', element: <Workshop /> },
    { path: '/parts', element: <Parts /> },
    { path: '/boards/:slug/draw', element: <BoardEditor /> },
    { path: '/practice', element: <Practice /> },
    { path: '/boards', element: <Boards /> },
    { path: '/boards/:slug', element: <BoardPage /> },
    {
        path: '*',
        element: (
            <main className="mx-auto max-w-xl p-8">
                <h1 className="text-2xl">There is nothing at this address.</h1>
                <Link to="/" className="underline">
                    Back to the bench
                </Link>
            </main>
        ),
    },
];

const router = createBrowserRouter([{ errorElement: <Broken />, children: pages }]);

createRoot(document.getElementById('bench')!).render(
    <StrictMode>
        <QueryClientProvider client={cache}>
            <HintProvider delayDuration={300}>
                <Suspense fallback={<p className="p-8 text-soft">Laying out…</p>}>
                    <RouterProvider router={router} />
                </Suspense>
            </HintProvider>
        </QueryClientProvider>
    </StrictMode>,
);
