/** The stages in their order: one entry is all that a stage is to the rest of the page. */
import type { Row } from '$lib/state/rows';
import type { StageFacts } from '$lib/state/stage';
import type { Component } from 'svelte';
import BringInBench from './bring-in/BringInBench.svelte';
import BringInCells from './bring-in/BringInCells.svelte';
import BringInColumns from './bring-in/BringInColumns.svelte';
import PlayLine from './bring-in/PlayLine.svelte';
import CompareBench from './compare/CompareBench.svelte';
import CompareCells from './compare/CompareCells.svelte';
import CompareColumns from './compare/CompareColumns.svelte';
import DuckBench from './duck/DuckBench.svelte';
import DuckCells from './duck/DuckCells.svelte';
import DuckColumns from './duck/DuckColumns.svelte';
import LevelsBench from './levels/LevelsBench.svelte';
import LevelsColumns from './levels/LevelsColumns.svelte';
import Stations from './levels/Stations.svelte';
import ParallelBench from './parallel/ParallelBench.svelte';
import ParallelCells from './parallel/ParallelCells.svelte';
import ParallelColumns from './parallel/ParallelColumns.svelte';
import RouteBench from './route/RouteBench.svelte';
import RouteCells from './route/RouteCells.svelte';
import RouteColumns from './route/RouteColumns.svelte';
import RouteOver from './route/RouteOver.svelte';
import Chain from './shape/Chain.svelte';
import ShapeBench from './shape/ShapeBench.svelte';
import ShapeColumns from './shape/ShapeColumns.svelte';
import { TABS as BRING_IN_TABS } from './bring-in/tabs';
import { TABS as LEVELS_TABS } from './levels/tabs';
import { TABS as ROUTE_TABS } from './route/tabs';
import Stem from './track-out/Stem.svelte';
import TrackOutBench from './track-out/TrackOutBench.svelte';
import TrackOutColumns from './track-out/TrackOutColumns.svelte';

export interface StageEntry extends StageFacts {
  /** Heads of its columns. */
  Columns: Component;
  /** Its part of a row. */
  Cells: Component<{ row: Row }>;
  /** What lies over all rows. */
  Over?: Component;
  Bench: Component;
}

export const STAGES: readonly StageEntry[] = [
  {
    id: 'bring-in',
    name: 'Bring in',
    key: '1',
    tabs: BRING_IN_TABS,
    begins: 'sound',
    benchHeight: 226,
    Columns: BringInColumns,
    Cells: BringInCells,
    Over: PlayLine,
    Bench: BringInBench,
  },
  {
    id: 'route',
    name: 'Route',
    key: '2',
    tabs: ROUTE_TABS,
    benchHeight: 226,
    Columns: RouteColumns,
    Cells: RouteCells,
    Over: RouteOver,
    Bench: RouteBench,
  },
  {
    id: 'levels',
    name: 'Levels',
    key: '3',
    tabs: LEVELS_TABS,
    benchHeight: 226,
    Columns: LevelsColumns,
    Cells: Stations,
    Bench: LevelsBench,
  },
  {
    id: 'shape',
    name: 'Shape',
    key: '4',
    benchHeight: 340,
    Columns: ShapeColumns,
    Cells: Chain,
    Bench: ShapeBench,
  },
  {
    id: 'duck',
    name: 'Duck',
    key: '5',
    benchHeight: 300,
    Columns: DuckColumns,
    Cells: DuckCells,
    Bench: DuckBench,
  },
  {
    id: 'parallel',
    name: 'Parallel',
    key: '6',
    benchHeight: 300,
    Columns: ParallelColumns,
    Cells: ParallelCells,
    Bench: ParallelBench,
  },
  {
    id: 'compare',
    name: 'Compare',
    key: '7',
    benchHeight: 300,
    Columns: CompareColumns,
    Cells: CompareCells,
    Bench: CompareBench,
  },
  {
    id: 'track-out',
    name: 'Track out',
    key: '8',
    benchHeight: 226,
    Columns: TrackOutColumns,
    Cells: Stem,
    Bench: TrackOutBench,
  },
];
