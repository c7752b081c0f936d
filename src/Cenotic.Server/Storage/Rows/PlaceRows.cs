using System.ComponentModel.DataAnnotations.Schema;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Storage;

/// <summary>A picture of a paper plan.</summary>
[Table("plan_pictures")]
[Index(nameof(Site), nameof(Id))]
public sealed class PlanPictureRow
{
    public long Id { get; init; }
    public required string Site { get; init; }

    /// <summary>image/jpeg, image/png or image/webp.</summary>
    public required string Type { get; init; }
    public required byte[] Body { get; init; }
}
