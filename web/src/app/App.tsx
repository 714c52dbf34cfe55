import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { createBrowserRouter, RouterProvider } from "react-router";

import { BehaviourBench } from "../bench/BehaviourBench";
import { HandInBench } from "../bench/HandInBench";
import { MistakeBench } from "../bench/MistakeBench";
import { ReferenceBench } from "../bench/ReferenceBench";
import { ExercisePage } from "../exercises/ExercisePage";
import { FloorPage } from "../floors/FloorPage";
import { Feedback } from "../marks/Feedback";
import { MarkSheet } from "../marks/MarkSheet";
import { ProofPage } from "../proof/ProofPage";
import { Shelf } from "../shelf/Shelf";
import { NotThere } from "./NotThere";
import { Shell } from "./Shell";
import { useThemeOnPage } from "./theme";

const client = new QueryClient({ defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } } });

const router = createBrowserRouter([
  {
    element: <Shell />,
    children: [
      { path: "/", element: <Shelf /> },
      { path: "/bench/:id", element: <BehaviourBench /> },
      { path: "/hand-ins/:id", element: <HandInBench /> },
      { path: "/floors/:id", element: <FloorPage /> },
      { path: "/exercises/:id", element: <ExercisePage /> },
      { path: "/exercises/:id/bench", element: <ReferenceBench /> },
      { path: "/exercises/:id/proof", element: <ProofPage /> },
      { path: "/exercises/:id/proof/:place", element: <MistakeBench /> },
      { path: "/exercises/:id/feedback", element: <Feedback /> },
      { path: "/exercises/:id/marks", element: <MarkSheet /> },
      { path: "*", element: <NotThere /> },
    ],
  },
]);

export function App() {
  useThemeOnPage();
  return (
    <QueryClientProvider client={client}>
      <RouterProvider router={router} />
    </QueryClientProvider>
  );
}
