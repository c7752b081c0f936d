using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Place;

namespace Cenotic.Core.Formats;

/// <summary>What a GeoJSON file brings to the plan.</summary>
/// <param name="Edits">What brings it.</param>
/// <param name="HeatSources">Heaters and vents.</param>
public sealed record PlaceImport(IReadOnlyList<DesignEdit> Edits, int Rooms, int Walls, int Spots, int HeatSources);

/// <summary>The plan of the place as GeoJSON, through its anchor: rooms are polygons, walls lines, spots, heaters and vents points. Source: RFC 7946.</summary>
public static class PlaceGeoJson
{
    /// <summary>A place farther from the plan's corner is taken for a mistake, m.</summary>
    private const double FarthestMetres = 500;

    /// <summary>The kind of a point that is no spot.</summary>
    private const string OfHeat = "heatSource";

    /// <summary>Decimals of a degree: a millimetre.</summary>
    private const int Decimals = 8;

    /// <summary>Writes the plan.</summary>
    /// <returns>A feature collection; refused where nobody said where the plan lies.</returns>
    public static Outcome<string> Write(PlaceDesign place)
    {
        if (place.Anchor is not { } anchor)
        {
            return Outcome<string>.Refused("Say first where the plan lies on the earth.");
        }
        var frame = new EarthFrame(anchor);
        JsonArray Position(Point at)
        {
            var (latitude, longitude) = frame.OnEarth(at);
            return [Math.Round(longitude, Decimals), Math.Round(latitude, Decimals)];
        }
        JsonObject[] features =
        [
            .. place.Rooms.Select(r => Feature("Polygon", [new JsonArray([.. Ring(r.Corners).Select(Position)])], Properties(r))),
            .. place.Walls.Select(w => Feature("LineString", [Position(w.From), Position(w.To)], Properties(w))),
            .. place.Spots.Select(s => Feature("Point", Position(new(s.X, s.Y)), Properties(s))),
            .. place.HeatSources.Select(h => Feature("Point", Position(new(h.X, h.Y)), Properties(h))),
        ];
        return new JsonObject { ["type"] = "FeatureCollection", ["features"] = new JsonArray([.. features]) }.ToJsonString(CenoticJson.Indented);
    }

    /// <summary>A closed ring, counterclockwise as seen from above: RFC 7946, 3.1.6.</summary>
    private static IEnumerable<Point> Ring(IReadOnlyList<Point> corners)
    {
        // The plan's y goes down, so that what turns left there turns right on the earth.
        var turned = PlanGeometry.TwiceArea(corners) > 0 ? corners.Reverse() : corners;
        return turned.Append(turned.First());
    }

    private static JsonObject Feature(string type, JsonArray coordinates, JsonObject properties) =>
        new()
        {
            ["type"] = "Feature",
            ["geometry"] = new JsonObject { ["type"] = type, ["coordinates"] = coordinates },
            ["properties"] = properties,
        };

    private static JsonObject Properties(Room room) =>
        new()
        {
            ["kind"] = "room",
            ["key"] = room.Key,
            ["name"] = room.Label,
            ["floor"] = room.Floor,
            ["tags"] = Node(room.Tags),
        };

    private static JsonObject Properties(Wall wall) =>
        new()
        {
            ["kind"] = "wall",
            ["key"] = wall.Key,
            ["floor"] = wall.Floor,
            ["material"] = Node(wall.Material),
            ["thicknessMetres"] = wall.ThicknessMetres,
            ["openings"] = Node(wall.Openings),
        };

    private static JsonObject Properties(Spot spot) =>
        new()
        {
            ["kind"] = "spot",
            ["key"] = spot.Key,
            ["name"] = spot.Label,
            ["room"] = spot.Room,
            ["heightMetres"] = spot.HeightMetres,
            ["facingDegrees"] = spot.FacingDegrees,
            ["tiltDegrees"] = spot.TiltDegrees,
        };

    private static JsonObject Properties(HeatSource source) =>
        new()
        {
            ["kind"] = OfHeat,
            ["key"] = source.Key,
            ["name"] = source.Label,
            ["floor"] = source.Floor,
            ["source"] = Node(source.Kind),
        };

    private static JsonNode? Node<T>(T value) => JsonSerializer.SerializeToNode(value, CenoticJson.Options);

    /// <summary>Reads what a file brings. What has the key of something that stands replaces it; where nothing stands and nobody said where the plan lies, the
    /// file says so: its north-western corner.</summary>
    /// <returns>Refused with each place in the file where something is wrong.</returns>
    public static Outcome<PlaceImport> Read(string json, PlaceDesign place)
    {
        try
        {
            using var document = JsonDocument.Parse(json);
            return new GeoJsonReader(place).Read(document.RootElement);
        }
        catch (JsonException fault)
        {
            return Outcome<PlaceImport>.Refused($"This is no JSON: {fault.Message}");
        }
    }

    /// <summary>Reads one file.</summary>
    private sealed class GeoJsonReader(PlaceDesign place)
    {
        private readonly List<Reason> _faults = [];
        private readonly List<Room> _rooms = [];
        private readonly List<Wall> _walls = [];
        private readonly List<Spot> _spots = [];
        private readonly List<HeatSource> _heat = [];
        private EarthFrame? _frame;

        internal Outcome<PlaceImport> Read(JsonElement root)
        {
            if (Text(root, "type") != "FeatureCollection" || !root.TryGetProperty("features", out var list) || list.ValueKind != JsonValueKind.Array)
            {
                return Outcome<PlaceImport>.Refused("This is no GeoJSON plan: it must be a FeatureCollection with features.");
            }
            var features = list.EnumerateArray().ToList();
            if (AnchorOf(features) is not { } anchor)
            {
                return Outcome<PlaceImport>.Refused(
                    features.Count == 0 ? "The file has no features." : "Say first where the plan lies on the earth: rooms stand on it already."
                );
            }
            _frame = new(anchor);
            for (var i = 0; i < features.Count; i++)
            {
                Feature($"Feature {i + 1}", features[i]);
            }
            if (_faults.Count > 0)
            {
                return Outcome<PlaceImport>.Refused(_faults);
            }
            DesignEdit[] edits =
            [
                .. place.Anchor is null ? [new SetAnchor(anchor)] : Array.Empty<DesignEdit>(),
                .. _rooms.Select(r => new PutRoom(r)),
                .. _walls.Select(w => new PutWall(w)),
                .. _spots.Select(s => new PutSpot(s)),
                .. _heat.Select(h => new PutHeatSource(h)),
            ];
            return new PlaceImport(edits, _rooms.Count, _walls.Count, _spots.Count, _heat.Count);
        }

        /// <summary>That of the plan; of an empty plan without one the north-western corner of the file, north up.</summary>
        private SiteAnchor? AnchorOf(List<JsonElement> features)
        {
            if (place.Anchor is not null || place.Rooms.Count + place.Walls.Count + place.Spots.Count > 0)
            {
                return place.Anchor;
            }
            var positions = features.SelectMany(f => f.TryGetProperty("geometry", out var g) ? Positions(g) : []).ToList();
            return positions.Count == 0 ? null : new(positions.Max(p => p.Latitude), positions.Min(p => p.Longitude));
        }

        private static IEnumerable<(double Latitude, double Longitude)> Positions(JsonElement at)
        {
            if (at.ValueKind == JsonValueKind.Object)
            {
                return at.TryGetProperty("coordinates", out var inner) ? Positions(inner) : [];
            }
            if (at.ValueKind != JsonValueKind.Array)
            {
                return [];
            }
            return IsPosition(at) ? [(at[1].GetDouble(), at[0].GetDouble())] : at.EnumerateArray().SelectMany(Positions);
        }

        private static bool IsPosition(JsonElement at) =>
            at.ValueKind == JsonValueKind.Array
            && at.GetArrayLength() >= 2
            && at[0].ValueKind == JsonValueKind.Number
            && at[1].ValueKind == JsonValueKind.Number
            && Math.Abs(at[0].GetDouble()) <= 180
            && Math.Abs(at[1].GetDouble()) <= 90;

        private void Feature(string which, JsonElement feature)
        {
            if (feature.ValueKind != JsonValueKind.Object || !feature.TryGetProperty("geometry", out var geometry))
            {
                _faults.Add(new($"{which} has no geometry."));
                return;
            }
            // A feature without a place is allowed, and brings nothing.
            if (geometry.ValueKind == JsonValueKind.Null)
            {
                return;
            }
            var properties = feature.TryGetProperty("properties", out var given) && given.ValueKind == JsonValueKind.Object ? given : default;
            var coordinates = geometry.ValueKind == JsonValueKind.Object && geometry.TryGetProperty("coordinates", out var c) ? c : default;
            var type = Text(geometry, "type");
            switch (type)
            {
                case "Polygon":
                    Room(which, coordinates, properties);
                    break;
                case "LineString":
                    Walls(which, coordinates, properties);
                    break;
                case "Point":
                    Spot(which, coordinates, properties);
                    break;
                case "MultiPolygon" or "MultiLineString" or "MultiPoint" when coordinates.ValueKind == JsonValueKind.Array:
                    foreach (var part in coordinates.EnumerateArray())
                    {
                        Part(which, type, part, properties);
                    }
                    break;
                default:
                    _faults.Add(new($"{which} is a {type ?? "geometry without a type"}; rooms are polygons, walls lines and spots points."));
                    break;
            }
        }

        private void Part(string which, string type, JsonElement part, JsonElement properties)
        {
            switch (type)
            {
                case "MultiPolygon":
                    Room(which, part, properties);
                    break;
                case "MultiLineString":
                    Walls(which, part, properties);
                    break;
                default:
                    Spot(which, part, properties);
                    break;
            }
        }

        private void Room(string which, JsonElement rings, JsonElement properties)
        {
            if (rings.ValueKind != JsonValueKind.Array || rings.GetArrayLength() == 0 || Points(which, rings[0]) is not { Count: >= 4 } ring)
            {
                _faults.Add(new($"{which} is no polygon: its ring needs four positions, the last of them the first again."));
                return;
            }
            if (rings.GetArrayLength() > 1)
            {
                _faults.Add(new($"{which} has a hole; a room is one outline."));
            }
            var label = Text(properties, "name") ?? $"Room {_rooms.Count + 1}";
            var room = new Room(
                KeyOf(properties, label, place.Rooms.Select(r => r.Key), _rooms.Select(r => r.Key)),
                label,
                ring.SkipLast(1).ToList(),
                [],
                FloorOf(properties)
            );
            _rooms.Add(room with { Tags = Value<List<RoomTag>>(which, properties, "tags") ?? [] });
        }

        private void Walls(string which, JsonElement line, JsonElement properties)
        {
            if (Points(which, line) is not { Count: >= 2 } points)
            {
                _faults.Add(new($"{which} is no line: it needs two positions."));
                return;
            }
            foreach (var (from, to) in points.Zip(points.Skip(1)))
            {
                _walls.Add(
                    new Wall(
                        KeyOf(properties, "wall", place.Walls.Select(w => w.Key), _walls.Select(w => w.Key)),
                        from,
                        to,
                        Value<WallMaterial?>(which, properties, "material") ?? WallMaterial.Brick,
                        Value<double?>(which, properties, "thicknessMetres"),
                        FloorOf(properties)
                    )
                    {
                        Openings = points.Count == 2 ? Value<List<Opening>>(which, properties, "openings") ?? [] : [],
                    }
                );
            }
        }

        private void Spot(string which, JsonElement at, JsonElement properties)
        {
            if (PointOf(which, at) is not { } point)
            {
                return;
            }
            if (Text(properties, "kind") == OfHeat)
            {
                Heat(which, point, properties);
                return;
            }
            var label = Text(properties, "name") ?? $"Spot {_spots.Count + 1}";
            _spots.Add(
                new(
                    KeyOf(properties, label, place.Spots.Select(s => s.Key), _spots.Select(s => s.Key)),
                    label,
                    RoomOf(properties, point),
                    point.X,
                    point.Y,
                    Value<double?>(which, properties, "heightMetres") ?? UsualHeight,
                    Value<double?>(which, properties, "facingDegrees") ?? 0,
                    Value<double?>(which, properties, "tiltDegrees") ?? 0
                )
            );
        }

        private void Heat(string which, Point at, JsonElement properties)
        {
            var label = Text(properties, "name") ?? $"Heater {_heat.Count + 1}";
            var kind = Value<HeatSourceKind?>(which, properties, "source") ?? HeatSourceKind.Heater;
            var key = KeyOf(properties, label, place.HeatSources.Select(h => h.Key), _heat.Select(h => h.Key));
            _heat.Add(new(key, label, kind, at.X, at.Y, FloorOf(properties)));
        }

        /// <summary>Of a spot of which nothing else is said, m.</summary>
        private const double UsualHeight = 1.5;

        /// <summary>The room that is named, else the one of its floor that it lies in, of the file or of the plan.</summary>
        private string? RoomOf(JsonElement properties, Point at)
        {
            var rooms = _rooms.Concat(place.Rooms).ToList();
            return (
                rooms.Find(r => r.Key == Text(properties, "room")) ?? rooms.Find(r => r.Floor == FloorOf(properties) && PlacePlanner.Contains(r.Corners, at))
            )?.Key;
        }

        private string? FloorOf(JsonElement properties) => place.Floor(Text(properties, "floor"))?.Key;

        /// <summary>The key that is given, where something with it stands or it is free; else one made of the name.</summary>
        private static string KeyOf(JsonElement properties, string label, IEnumerable<string> standing, IEnumerable<string> read)
        {
            var taken = read.ToHashSet();
            return Text(properties, "key") is { } key && !taken.Contains(key) && Keys.Free(key, []) == key ? key : Keys.Free(label, [.. standing, .. taken]);
        }

        private List<Point>? Points(string which, JsonElement line)
        {
            if (line.ValueKind != JsonValueKind.Array)
            {
                return null;
            }
            var points = line.EnumerateArray().Select(at => PointOf(which, at)).ToList();
            return points.Contains(null) ? null : [.. points.OfType<Point>()];
        }

        private Point? PointOf(string which, JsonElement at)
        {
            if (!IsPosition(at))
            {
                _faults.Add(new($"{which} has a position that is none: it is longitude, then latitude, in degrees."));
                return null;
            }
            var point = _frame!.OnPlan(at[1].GetDouble(), at[0].GetDouble());
            if (Math.Sqrt(point.X * point.X + point.Y * point.Y) is > FarthestMetres and var metres)
            {
                _faults.Add(new($"{which} lies {Far(metres)} from the plan's corner, and a plan reaches {FarthestMetres} m. Longitude comes first."));
                return null;
            }
            return new(Math.Round(point.X, 3), Math.Round(point.Y, 3));
        }

        private static string Far(double metres) =>
            metres < 10_000
                ? string.Create(CultureInfo.InvariantCulture, $"{metres:0} m")
                : string.Create(CultureInfo.InvariantCulture, $"{metres / 1000:0} km");

        private static string? Text(JsonElement of, string name) =>
            of.ValueKind == JsonValueKind.Object && of.TryGetProperty(name, out var value) && value.ValueKind == JsonValueKind.String
                ? value.GetString()
                : null;

        /// <summary>What a property must be, in words.</summary>
        private static string Wanted(Type type) =>
            type == typeof(List<RoomTag>) ? $"a list of {Names<RoomTag>()}"
            : type == typeof(List<Opening>) ? "a list of openings as a site file has them"
            : type == typeof(WallMaterial?) ? $"one of {Names<WallMaterial>()}"
            : type == typeof(HeatSourceKind?) ? $"one of {Names<HeatSourceKind>()}"
            : "a number";

        private static string Names<T>()
            where T : struct, Enum => string.Join(", ", Enum.GetValues<T>().Select(v => JsonNamingPolicy.CamelCase.ConvertName(v.ToString())));

        private T? Value<T>(string which, JsonElement properties, string name)
        {
            if (properties.ValueKind != JsonValueKind.Object || !properties.TryGetProperty(name, out var value) || value.ValueKind == JsonValueKind.Null)
            {
                return default;
            }
            try
            {
                return value.Deserialize<T>(CenoticJson.Options);
            }
            catch (JsonException)
            {
                _faults.Add(new($"{which}: \"{name}\" is {value.GetRawText()}; it must be {Wanted(typeof(T))}."));
                return default;
            }
        }
    }
}
