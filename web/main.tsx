import { Tooltip } from 'radix-ui';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router';
import { Toaster } from 'sonner';
import { AllListsView } from './views/lists/AllListsView.tsx';
import { AirplayView } from './views/hours/AirplayView.tsx';
import { ToFindView } from './views/lists/ToFindView.tsx';
import { ArrangeView } from './views/arrange/ArrangeView.tsx';
import { BackupsView } from './views/backups/BackupsView.tsx';
import { MusicCopyView } from './views/backups/music/MusicCopyView.tsx';
import { BundlesView } from './views/bundles/BundlesView.tsx';
import { CatalogueView } from './views/catalogue/CatalogueView.tsx';
import { ChangesView } from './views/changes/ChangesView.tsx';
import { CheckView } from './views/check/CheckView.tsx';
import { CleanView } from './views/clean/CleanView.tsx';
import { CompletenessView } from './views/completeness/CompletenessView.tsx';
import { IntakeView } from './views/intake/IntakeView.tsx';
import { DuplicatesView } from './views/disk/duplicates/DuplicatesView.tsx';
import { PlacesView } from './views/disk/places/PlacesView.tsx';
import { LookView } from './views/intake/look/LookView.tsx';
import { TakeView } from './views/take/TakeView.tsx';
import { SpaceView } from './views/disk/space/SpaceView.tsx';
import { OthersView } from './views/disk/others/OthersView.tsx';
import { QuarantineView } from './views/disk/quarantine/QuarantineView.tsx';
import { DiskView } from './views/disk/DiskView.tsx';
import { HandoverView } from './views/handover/HandoverView.tsx';
import { StickView } from './views/handover/stick/StickView.tsx';
import { RateView } from './views/rate/RateView.tsx';
import { SoundView } from './views/sound/SoundView.tsx';
import { TodayView } from './views/today/TodayView.tsx';
import { TracksView } from './views/tracks/TracksView.tsx';
import { AllKeys } from './commands/commands.ts';
import { Shell } from './app/Shell.tsx';
import './app/theme.css';

const router = createBrowserRouter([
  {
    element: <Shell />,
    children: [
      { path: '/', element: <Navigate to="/today" replace /> },
      { path: '/today', element: <TodayView /> },
      { path: '/tracks', element: <TracksView /> },
      { path: '/tracks/:trackId/sound', element: <SoundView /> },
      { path: '/check', element: <CheckView /> },
      { path: '/rate', element: <RateView /> },
      { path: '/intake', element: <IntakeView /> },
      { path: '/intake/look', element: <LookView /> },
      { path: '/intake/from', element: <TakeView /> },
      { path: '/arrange/all', element: <AllListsView /> },
      { path: '/arrange/to-find', element: <ToFindView /> },
      { path: '/arrange/airplay', element: <AirplayView /> },
      { path: '/arrange/:listId?', element: <ArrangeView /> },
      { path: '/clean', element: <CleanView /> },
      { path: '/clean/completeness', element: <CompletenessView /> },
      { path: '/clean/catalogue', element: <CatalogueView /> },
      { path: '/disk', element: <DiskView /> },
      { path: '/disk/places', element: <PlacesView /> },
      { path: '/disk/others', element: <OthersView /> },
      { path: '/disk/quarantine', element: <QuarantineView /> },
      { path: '/disk/space', element: <SpaceView /> },
      { path: '/disk/duplicates', element: <DuplicatesView /> },
      { path: '/changes', element: <ChangesView /> },
      { path: '/backups', element: <BackupsView /> },
      { path: '/backups/music', element: <MusicCopyView /> },
      { path: '/bundles', element: <BundlesView /> },
      { path: '/handover/stick/:stickId', element: <StickView /> },
      { path: '/handover/:destinationId?', element: <HandoverView /> },
      { path: '*', element: <Navigate to="/tracks" replace /> },
    ],
  },
]);

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Tooltip.Provider>
      <AllKeys />
      <RouterProvider router={router} />
      <Toaster
        position="bottom-center"
        offset={76}
        toastOptions={{
          unstyled: true,
          classNames: {
            toast:
              'flex w-[360px] items-center gap-3 rounded-xs border border-line bg-inverse px-3.5 py-2.5 text-[13px] ' +
              'text-inverse-ink shadow-[0_6px_20px_rgba(11,23,28,.3)]',
            content: 'flex-1',
            title: 'font-semibold',
            description: 'text-tiny opacity-80',
            actionButton: 'border border-inverse-tide px-2 py-1 rounded-xs font-semibold whitespace-nowrap',
            error: 'border-l-[4px] !border-l-flare',
          },
        }}
      />
    </Tooltip.Provider>
  </StrictMode>,
);
