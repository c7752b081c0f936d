namespace Cenotic.Core.Design;

/// <content>Checks of the plan of the place.</content>
public static partial class EditChecks
{
    private static void OfPlace(FaultList faults, PlaceDesign place, PlaceEdit edit)
    {
        switch (edit)
        {
            case SetAnchor e:
                Anchor(faults.Under("anchor"), e.Anchor);
                break;
            case PutRoom e:
                Room(faults.Under("room"), e.Room);
                break;
            case RemoveRoom e:
                Exists(faults, place.Rooms.Any(r => r.Key == e.Key), "room", e.Key);
                break;
            case MoveSide e:
                faults.Within("The distance", e.Metres, -LargestMetres, LargestMetres, "m");
                Moved(faults, place, e, e.Key, e.Side);
                break;
            case MoveCorner e:
                Metres(faults, e.To.X, e.To.Y);
                Moved(faults, place, e, e.Key, e.Corner);
                break;
            case PutWall e:
                Wall(faults.Under("wall"), e.Wall);
                break;
            case RemoveWall e:
                Exists(faults, place.Walls.Any(w => w.Key == e.Key), "wall", e.Key);
                break;
            case PutSpot e:
                Spot(faults.Under("spot"), e.Spot);
                break;
            case RemoveSpot e:
                Exists(faults, place.Spots.Any(s => s.Key == e.Key), "spot", e.Key);
                break;
            default:
                OfHouse(faults, place, edit);
                break;
        }
    }

    private static void OfHouse(FaultList faults, PlaceDesign place, PlaceEdit edit)
    {
        switch (edit)
        {
            case PutFloor e:
                Floor(faults.Under("floor"), e.Floor);
                break;
            case RemoveFloor e:
                Exists(faults, place.Floor(e.Key) is not null, "floor", e.Key);
                break;
            case PutScan e:
                Scan(faults.Under("scan"), e.Scan);
                break;
            case FitScan e:
                Fit(faults, place.Scans.FirstOrDefault(s => s.Floor == e.Floor), e);
                break;
            case RemoveScan e:
                Exists(faults, place.Scans.Any(s => s.Floor == e.Floor), "picture", e.Floor ?? "ground");
                break;
            case PutAccessPoint e:
                AccessPoint(faults.Under("accessPoint"), e.AccessPoint);
                break;
            case RemoveAccessPoint e:
                Exists(faults, place.AccessPoints.Any(a => a.Key == e.Key), "access point", e.Key);
                break;
            case PutHeatSource e:
                HeatSource(faults.Under("heatSource"), e.HeatSource);
                break;
            case RemoveHeatSource e:
                Exists(faults, place.HeatSources.Any(h => h.Key == e.Key), "heater or vent", e.Key);
                break;
        }
    }

    private static void Anchor(FaultList faults, SiteAnchor? anchor)
    {
        // Nearer to a pole east and west say nothing any more.
        faults.Within("The latitude", anchor?.LatitudeDegrees ?? 0, -85, 85, "degrees");
        faults.Within("The longitude", anchor?.LongitudeDegrees ?? 0, -180, 180, "degrees");
        faults.Within("The bearing", anchor?.BearingDegrees ?? 0, 0, 360, "degrees");
    }

    private static void Room(FaultList faults, Room room)
    {
        faults.Key(room.Key);
        faults.Text("The room's name", room.Label);
        if (room.Corners.Count is < 3 or > 64)
        {
            faults.Add("A room needs 3 to 64 corners.", "corners");
        }
        else if (Crossing(room.Corners) is var (first, second))
        {
            faults.Add($"Its outline crosses itself: the side from corner {first + 1} meets the one from corner {second + 1}.", "corners");
        }
        if (room.Tags.Contains(RoomTag.Trees) && !room.Tags.Contains(RoomTag.Outdoor))
        {
            faults.Add("Trees stand outdoors: say that of it too.", "tags");
        }
        faults.Within("What its sensors should see", room.WatchedPercent ?? Design.Room.UsualWatchedPercent, 0, 100, "%");
        Metres(faults, [.. room.Corners.SelectMany(c => new[] { c.X, c.Y })]);
    }

    /// <summary>What rooms and walls would be like after a move: each fault says whose it is.</summary>
    /// <param name="at">Which side or corner of the room.</param>
    private static void Moved(FaultList faults, PlaceDesign place, PlaceEdit edit, string key, int at)
    {
        var room = place.Rooms.FirstOrDefault(r => r.Key == key);
        Exists(faults, room is not null, "room", key);
        if (room is not null && (at < 0 || at >= room.Corners.Count))
        {
            faults.Add($"{room.Label} has {room.Corners.Count} sides and corners, counted from 0.");
        }
        if (faults.All.Count > 0)
        {
            return;
        }
        var after = PlaceMoves.Apply(place, edit);
        foreach (var (was, moved) in place.Rooms.Zip(after.Rooms).Where(p => !ReferenceEquals(p.First, p.Second)))
        {
            // Turned inside out it was pushed through itself.
            if (PlanGeometry.TwiceArea(moved.Corners) * Math.Sign(PlanGeometry.TwiceArea(was.Corners)) < 0.02)
            {
                faults.Add($"That leaves nothing of {was.Label}.");
                continue;
            }
            var of = new FaultList();
            Room(of, moved);
            faults.AddRange(of.All.Select(r => $"{was.Label}: {r.Says}"));
        }
        foreach (var wall in after.Walls.Where(w => !place.Walls.Contains(w)))
        {
            var of = new FaultList();
            Wall(of, wall);
            faults.AddRange(of.All.Select(r => $"The wall from {wall.From.X:0.##}, {wall.From.Y:0.##} to {wall.To.X:0.##}, {wall.To.Y:0.##} m: {r.Says}"));
        }
    }

    private static void Wall(FaultList faults, Wall wall)
    {
        faults.Key(wall.Key);
        Metres(faults, wall.From.X, wall.From.Y, wall.To.X, wall.To.Y);
        if (wall.From == wall.To)
        {
            faults.Add("The wall has no length; its two ends must differ.");
        }
        faults.Within("The thickness", wall.ThicknessMetres ?? 0.1, 0.0005, 2, "m");
        for (var i = 0; i < wall.Openings.Count; i++)
        {
            Opening(faults.Under($"openings.{i}"), wall, wall.Openings[i]);
        }
        var inOrder = wall.Openings.OrderBy(o => o.AtMetres).ToList();
        if (inOrder.Zip(inOrder.Skip(1)).Any(p => p.First.AtMetres + p.First.WidthMetres > p.Second.AtMetres + 1e-9))
        {
            faults.Add("Two of its openings overlap.", "openings");
        }
    }

    private static void Opening(FaultList faults, Wall wall, Opening opening)
    {
        faults.Within("The width", opening.WidthMetres, 0.05, 20, "m");
        faults.Within("The height", opening.HeightMetres, 0.05, 10, "m");
        faults.Within("The sill", opening.SillMetres, 0, 10, "m");
        if (!(opening.AtMetres >= 0 && opening.AtMetres + opening.WidthMetres <= wall.LengthMetres + 1e-9))
        {
            faults.Add(
                $"It goes from {opening.AtMetres:0.##} to {opening.AtMetres + opening.WidthMetres:0.##} m of a wall that is {wall.LengthMetres:0.##} m long.",
                "atMetres"
            );
        }
    }

    private static void Spot(FaultList faults, Spot spot)
    {
        faults.Key(spot.Key);
        faults.Text("The spot's name", spot.Label);
        Metres(faults, spot.X, spot.Y);
        faults.Within("The height", spot.HeightMetres, 0, 60, "m");
        faults.Within("The direction", spot.FacingDegrees, 0, 360, "degrees");
        faults.Within("The tilt", spot.TiltDegrees, -90, 90, "degrees");
    }

    private static void Floor(FaultList faults, Floor floor)
    {
        faults.Key(floor.Key);
        faults.Text("The floor's name", floor.Label);
        faults.Within("The level", floor.LevelMetres, -30, 100, "m");
        faults.Within("The ceiling", floor.CeilingMetres, 1, 20, "m");
        faults.Within("What lies under it", floor.SlabMetres ?? 0.1, 0.0005, 2, "m");
    }

    private static void Scan(FaultList faults, FloorScan scan)
    {
        faults.Within("The picture's width", scan.PixelsWide, 1, 10_000, "pixels");
        faults.Within("The picture's height", scan.PixelsHigh, 1, 10_000, "pixels");
        faults.Within("A pixel", scan.MetresPerPixel, 0.0002, 1, "m");
        faults.Within("The turn", scan.TurnDegrees, -360, 360, "degrees");
        Metres(faults, scan.X, scan.Y);
    }

    private static void Fit(FaultList faults, FloorScan? scan, FitScan fit)
    {
        Exists(faults, scan is not null, "picture", fit.Floor ?? "ground");
        Metres(faults, fit.From.X, fit.From.Y, fit.To.X, fit.To.Y);
        faults.Within("The distance", fit.Metres, 0.1, LargestMetres, "m");
        if (PlanGeometry.Between(fit.From, fit.To) < 0.05)
        {
            faults.Add("The two points are one: take the ends of something long.", "to");
        }
        if (faults.All.Count == 0)
        {
            Scan(faults, PlaceMoves.Fitted(scan!, fit));
        }
    }

    private static void AccessPoint(FaultList faults, AccessPoint accessPoint)
    {
        faults.Key(accessPoint.Key);
        faults.Text("The access point's name", accessPoint.Label);
        faults.Within("The channel", accessPoint.Channel ?? 1, 1, 13, "");
        faults.Within("What it sends with", accessPoint.RadiatedDbm ?? 20, -10, 36, "dBm");
    }

    private static void HeatSource(FaultList faults, HeatSource source)
    {
        faults.Key(source.Key);
        faults.Text("The name of the heater or vent", source.Label);
        Metres(faults, source.X, source.Y);
    }

    /// <summary>The first two sides of an outline that cross each other; sides that follow each other share a corner and do not count.</summary>
    private static (int First, int Second)? Crossing(IReadOnlyList<Point> corners)
    {
        var n = corners.Count;
        for (var i = 0; i < n; i++)
        {
            for (var j = i + 2; j < n; j++)
            {
                if ((j + 1) % n != i && Cross(corners[i], corners[i + 1], corners[j], corners[(j + 1) % n]))
                {
                    return (i, j);
                }
            }
        }
        return null;
    }

    private static bool Cross(Point a, Point b, Point c, Point d)
    {
        static double Turn(Point p, Point q, Point r) => (q.X - p.X) * (r.Y - p.Y) - (q.Y - p.Y) * (r.X - p.X);
        return Turn(a, b, c) * Turn(a, b, d) < 0 && Turn(c, d, a) * Turn(c, d, b) < 0;
    }

    private static void Metres(FaultList faults, params double[] metres)
    {
        if (metres.Any(m => !double.IsFinite(m) || Math.Abs(m) > LargestMetres))
        {
            faults.Add($"A place on the plan lies within {LargestMetres} m of its corner.");
        }
    }
}
