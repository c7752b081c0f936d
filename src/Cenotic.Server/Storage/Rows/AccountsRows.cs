using System.ComponentModel.DataAnnotations.Schema;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Storage;

/// <summary>A person who signs in.</summary>
public sealed class Account : IdentityUser;

[Table("memberships")]
[PrimaryKey(nameof(Site), nameof(AccountId))]
public sealed class MembershipRow
{
    public required string Site { get; init; }
    public required string AccountId { get; init; }
    public Role Role { get; set; }

    /// <summary>True for a viewer who may acknowledge episodes and arm zones.</summary>
    public bool MayAct { get; set; }
}
