import { createBrowserRouter, redirect } from 'react-router'
import { InTheHand, OnPaper, OnTheKnee, OnTheWall } from './distances.tsx'
import { RequireSignIn } from './require-sign-in.tsx'
import { RouteProblem } from './route-problem.tsx'
import { Shell } from './shell.tsx'

/** All pages. Stages load when they are opened first. */
export const router = createBrowserRouter([
  {
    Component: InTheHand,
    children: [
      {
        path: 's/:token',
        HydrateFallback: () => null,
        ErrorBoundary: RouteProblem,
        lazy: async () => ({ Component: (await import('../stages/student/student-page.tsx')).StudentPage }),
      },
      {
        path: 's/:token/memory',
        HydrateFallback: () => null,
        ErrorBoundary: RouteProblem,
        lazy: async () => ({ Component: (await import('../stages/student/memory-page.tsx')).MemoryPage }),
      },
      {
        path: 's/:token/drives/:runId',
        HydrateFallback: () => null,
        ErrorBoundary: RouteProblem,
        lazy: async () => ({ Component: (await import('../stages/debrief/portal-run.tsx')).PortalRunPage }),
      },
    ],
  },
  {
    Component: OnTheWall,
    children: [
      {
        path: 'board/:token',
        HydrateFallback: () => null,
        ErrorBoundary: RouteProblem,
        lazy: async () => ({ Component: (await import('../stages/day/day-wall.tsx')).DayWall }),
      },
    ],
  },
  {
    path: 'sheet/:token',
    HydrateFallback: () => null,
    ErrorBoundary: RouteProblem,
    lazy: async () => ({ Component: (await import('../stages/debrief/student-sheet.tsx')).SharedSheet }),
  },
  {
    path: 'pair',
    HydrateFallback: () => null,
    ErrorBoundary: RouteProblem,
    lazy: async () => ({ Component: (await import('./pair.tsx')).Pair }),
  },
  {
    Component: RequireSignIn,
    HydrateFallback: () => null,
    ErrorBoundary: RouteProblem,
    children: [
      {
        Component: Shell,
        children: [
          { index: true, loader: () => redirect('/circuit') },
          { path: 'circuit', lazy: async () => ({ Component: (await import('../stages/circuit/circuit-stage.tsx')).CircuitStage }) },
          { path: 'circuit/seat', lazy: async () => ({ Component: (await import('../stages/circuit/seat-page.tsx')).SeatPage }) },
          { path: 'circuit/new', lazy: async () => ({ Component: (await import('../stages/circuit/new-circuit.tsx')).NewCircuit }) },
          { path: 'circuit/all', lazy: async () => ({ Component: (await import('../stages/circuit/all-circuits.tsx')).AllCircuits }) },
          {
            path: 'circuit/vehicles',
            lazy: async () => ({ Component: (await import('../stages/circuit/vehicles-page.tsx')).VehiclesPage }),
          },
          { path: 'cones', lazy: async () => ({ Component: (await import('../stages/cones/cones-stage.tsx')).ConesStage }) },
          { path: 'cones/schemes', lazy: async () => ({ Component: (await import('../stages/cones/schemes-page.tsx')).SchemesPage }) },
          {
            Component: InTheHand,
            children: [
              { path: 'cones/check', lazy: async () => ({ Component: (await import('../stages/cones/check-page.tsx')).CheckPage }) },
            ],
          },
          { path: 'day', lazy: async () => ({ Component: (await import('../stages/day/day-stage.tsx')).DayStage }) },
          { path: 'day/pad', lazy: async () => ({ Component: (await import('../stages/day/pad-page.tsx')).PadPage }) },
          { path: 'day/all', lazy: async () => ({ Component: (await import('../stages/day/days-page.tsx')).DaysPage }) },
          { path: 'day/plan', lazy: async () => ({ Component: (await import('../stages/day/plan-page.tsx')).PlanPage }) },
          { path: 'brief', lazy: async () => ({ Component: (await import('../stages/brief/brief-stage.tsx')).BriefStage }) },
          { path: 'brief/calls', lazy: async () => ({ Component: (await import('../stages/brief/calls-page.tsx')).CallsPage }) },
          { path: 'brief/rehearse', lazy: async () => ({ Component: (await import('../stages/brief/rehearse-page.tsx')).RehearsePage }) },
          { path: 'brief/students', lazy: async () => ({ Component: (await import('../stages/brief/students-page.tsx')).StudentsPage }) },
          { path: 'run', lazy: async () => ({ Component: (await import('../stages/run/run-stage.tsx')).RunStage }) },
          { path: 'run/pit-wall', lazy: async () => ({ Component: (await import('../stages/run/pit-wall.tsx')).PitWall }) },
          { path: 'run/history', lazy: async () => ({ Component: (await import('../stages/run/history-page.tsx')).HistoryPage }) },
          { path: 'run/devices', lazy: async () => ({ Component: (await import('../stages/run/devices-page.tsx')).DevicesPage }) },
          { path: 'debrief', lazy: async () => ({ Component: (await import('../stages/debrief/debrief-list.tsx')).DebriefList }) },
          {
            path: 'debrief/thresholds',
            lazy: async () => ({ Component: (await import('../stages/debrief/thresholds-page.tsx')).ThresholdsPage }),
          },
          { path: 'debrief/:runId', lazy: async () => ({ Component: (await import('../stages/debrief/debrief-stage.tsx')).DebriefStage }) },
          { path: 'record', lazy: async () => ({ Component: (await import('../stages/record/record-stage.tsx')).RecordStage }) },
          { path: 'record/:studentId', lazy: async () => ({ Component: (await import('../stages/record/record-stage.tsx')).RecordStage }) },
          {
            path: 'record/:studentId/:page',
            lazy: async () => ({ Component: (await import('../stages/record/record-stage.tsx')).RecordStage }),
          },
          { path: 'guide', lazy: async () => ({ Component: (await import('../stages/guide/guide-page.tsx')).GuideStage }) },
          { path: 'guide/:page', lazy: async () => ({ Component: (await import('../stages/guide/guide-page.tsx')).GuideStage }) },
          { path: 'school', lazy: async () => ({ Component: (await import('../stages/school/people-page.tsx')).PeoplePage }) },
          {
            path: 'school/instructors',
            lazy: async () => ({ Component: (await import('../stages/school/instructors-page.tsx')).InstructorsPage }),
          },
          { path: 'school/cars', lazy: async () => ({ Component: (await import('../stages/school/cars-page.tsx')).CarsPage }) },
          { path: 'school/network', lazy: async () => ({ Component: (await import('../stages/school/network-page.tsx')).NetworkOfDay }) },
          { path: 'school/access', lazy: async () => ({ Component: (await import('../stages/school/access-page.tsx')).AccessPage }) },
          { path: 'school/safe', lazy: async () => ({ Component: (await import('../stages/school/safe-page.tsx')).SafePage }) },
          { path: 'school/settings', lazy: async () => ({ Component: (await import('../stages/school/settings-page.tsx')).SettingsPage }) },
        ],
      },
      { path: 'brief/presenter', lazy: async () => ({ Component: (await import('../stages/brief/presenter.tsx')).Presenter }) },
      { path: 'debrief/report/:dayId', lazy: async () => ({ Component: (await import('../stages/debrief/day-report.tsx')).DayReport }) },
      {
        path: 'debrief/:runId/sheet',
        lazy: async () => ({ Component: (await import('../stages/debrief/student-sheet.tsx')).StudentSheet }),
      },
      {
        Component: OnTheKnee,
        children: [
          { path: 'cones/lay', lazy: async () => ({ Component: (await import('../stages/cones/lay-page.tsx')).LayPage }) },
          {
            path: 'run/lead-follow/debrief',
            lazy: async () => ({ Component: (await import('../stages/run/row-debrief.tsx')).RowDebrief }),
          },
          { path: 'run/lead-follow', lazy: async () => ({ Component: (await import('../stages/run/lead-follow.tsx')).LeadFollow }) },
          { path: 'run/corner-post', lazy: async () => ({ Component: (await import('../stages/run/corner-post.tsx')).CornerPost }) },
          { path: 'run/pad', lazy: async () => ({ Component: (await import('../stages/run/pad-drill.tsx')).PadDrill }) },
          { path: 'run/:runId', lazy: async () => ({ Component: (await import('../stages/run/ride-along.tsx')).RideAlong }) },
        ],
      },
      {
        Component: OnTheWall,
        children: [
          { path: 'debrief/class', lazy: async () => ({ Component: (await import('../stages/debrief/class-review.tsx')).ClassReview }) },
          { path: 'brief/present', lazy: async () => ({ Component: (await import('../stages/brief/projector.tsx')).Projector }) },
          {
            path: 'school/network/wall',
            lazy: async () => ({ Component: (await import('../stages/school/network-page.tsx')).NetworkWall }),
          },
        ],
      },
      {
        Component: OnPaper,
        children: [
          { path: 'cones/sheet', lazy: async () => ({ Component: (await import('../stages/cones/laying-print.tsx')).LayingPrint }) },
          { path: 'day/pad-sheets', lazy: async () => ({ Component: (await import('../stages/day/pad-sheets.tsx')).PadSheets }) },
          { path: 'brief/card', lazy: async () => ({ Component: (await import('../stages/brief/prints.tsx')).PocketCard }) },
          {
            path: 'brief/call-sheet',
            lazy: async () => ({ Component: (await import('../stages/brief/call-sheet-print.tsx')).CallSheetPrint }),
          },
          { path: 'brief/slips', lazy: async () => ({ Component: (await import('../stages/brief/slips.tsx')).SlipsPrint }) },
          { path: 'brief/handout', lazy: async () => ({ Component: (await import('../stages/brief/prints.tsx')).Handout }) },
        ],
      },
      // Parts of the look, for whoever builds pages; no build has it.
      ...(import.meta.env.DEV ? [{ path: 'parts', lazy: async () => ({ Component: (await import('./parts-page.tsx')).PartsPage }) }] : []),
      { path: '*', loader: () => redirect('/circuit') },
    ],
  },
])
