using Cenotic.Core.Common;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;

namespace Cenotic.Server.Watch;

/// <summary>Tells how long the cells of nodes last.</summary>
public interface IDaysLeft
{
    /// <summary>Days left by node, each with its band; without those that have no cells or of which nothing can be said.</summary>
    /// <param name="now">UTC ms of site time.</param>
    Task<IReadOnlyDictionary<string, Figure>> ReadAsync(CenoticStore store, SiteState state, long now);
}
