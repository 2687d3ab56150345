import {Injectable} from '@angular/core';
import {
  BaseRouteReuseStrategy,
  destroyDetachedRouteHandle,
  type ActivatedRouteSnapshot,
  type DetachedRouteHandle,
  type Route,
} from '@angular/router';

/**
 * Stations marked `kept` in the routes stay as they are while another one of the same craft is open: building their many
 * fields anew took longer than a change of station may. They live as long as the craft's frame.
 */
@Injectable({providedIn: 'root'})
export class KeptStations extends BaseRouteReuseStrategy {
  private readonly kept = new Map<Route | null, DetachedRouteHandle>();

  /** Paths of stations that show something now which does not outlast being left: a table scrolled, a strip that runs. */
  private readonly alive = new Set<string>();

  /** Told by a station that is kept at times only. */
  mayKeep(path: string, may: boolean): void {
    if (may) this.alive.delete(path);
    else this.alive.add(path);
  }

  override shouldDetach({data, routeConfig}: ActivatedRouteSnapshot): boolean {
    return data['kept'] === true && !this.alive.has(routeConfig?.path ?? '');
  }

  override store({routeConfig}: ActivatedRouteSnapshot, handle: DetachedRouteHandle | null): void {
    if (handle) this.kept.set(routeConfig, handle);
    else this.kept.delete(routeConfig);
  }

  override shouldAttach({routeConfig}: ActivatedRouteSnapshot): boolean {
    return this.kept.has(routeConfig);
  }

  override retrieve({routeConfig}: ActivatedRouteSnapshot): DetachedRouteHandle | null {
    return this.kept.get(routeConfig) ?? null;
  }

  /** Ends every station that is kept: the craft they belong to is left. */
  clear(): void {
    for (const handle of this.kept.values()) destroyDetachedRouteHandle(handle);
    this.kept.clear();
    this.alive.clear();
  }
}
