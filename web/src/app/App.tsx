import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { lazy, type ReactNode, Suspense } from "react";
import { createBrowserRouter, RouterProvider } from "react-router";

import { Shelf } from "../shelf/Shelf";
import { Broken } from "./Broken";
import { NotThere } from "./NotThere";
import { Shell } from "./Shell";

const client = new QueryClient({ defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } } });

/** A view that is fetched when it is first opened: who looks at the shelf need not wait for the bench. */
function view<Name extends string>(fetched: () => Promise<Record<Name, () => ReactNode>>, name: Name): ReactNode {
  const View = lazy(async () => ({ default: (await fetched())[name] as () => ReactNode }));
  return <View />;
}

const router = createBrowserRouter([
  {
    path: "/hand-in",
    element: <Suspense>{view(() => import("../handin/HandInPage"), "HandInPage")}</Suspense>,
    errorElement: <Broken />,
  },
  {
    path: "/look",
    element: <Suspense>{view(() => import("../sharing/LookPage"), "LookPage")}</Suspense>,
    errorElement: <Broken />,
  },
  {
    element: <Shell />,
    errorElement: <Broken />,
    children: [
      {
        errorElement: <Broken />,
        children: [
          { path: "/", element: <Shelf /> },
          { path: "/bench/:id", element: view(() => import("../bench/BehaviourBench"), "BehaviourBench") },
          { path: "/hand-ins/:id", element: view(() => import("../bench/HandInBench"), "HandInBench") },
          { path: "/floors/:id", element: view(() => import("../floors/FloorPage"), "FloorPage") },
          { path: "/recordings/:id", element: view(() => import("../recordings/ImportPage"), "ImportPage") },
          { path: "/rigs/:id", element: view(() => import("../rigs/RigPage"), "RigPage") },
          { path: "/rigs/:id/live", element: view(() => import("../live/LivePage"), "LivePage") },
          { path: "/rigs/:id/calibration", element: view(() => import("../calibration/CalibrationPage"), "CalibrationPage") },
          { path: "/traces/:id", element: view(() => import("../traces/TracePage"), "TracePage") },
          { path: "/wordbooks/:id", element: view(() => import("../wordbooks/WordbookPage"), "WordbookPage") },
          { path: "/exercises/:id", element: view(() => import("../exercises/ExercisePage"), "ExercisePage") },
          { path: "/exercises/:id/bench", element: view(() => import("../bench/ReferenceBench"), "ReferenceBench") },
          { path: "/exercises/:id/proof", element: view(() => import("../proof/ProofPage"), "ProofPage") },
          { path: "/exercises/:id/proof/:place", element: view(() => import("../bench/MistakeBench"), "MistakeBench") },
          { path: "/exercises/:id/feedback", element: view(() => import("../marks/Feedback"), "Feedback") },
          { path: "/exercises/:id/marks", element: view(() => import("../marks/MarkSheet"), "MarkSheet") },
          { path: "/exercises/:id/collect", element: view(() => import("../classes/CollectPage"), "CollectPage") },
          { path: "/exercises/:id/share", element: view(() => import("../sharing/SharePage"), "SharePage") },
          { path: "/trash", element: view(() => import("../shelf/TrashPage"), "TrashPage") },
          { path: "/classes", element: view(() => import("../classes/ClassesPage"), "ClassesPage") },
          { path: "/classes/:id", element: view(() => import("../classes/ClassPage"), "ClassPage") },
          { path: "/account", element: view(() => import("./AccountPage"), "AccountPage") },
          { path: "*", element: <NotThere /> },
        ],
      },
    ],
  },
]);

export function App() {
  return (
    <QueryClientProvider client={client}>
      <RouterProvider router={router} />
    </QueryClientProvider>
  );
}
