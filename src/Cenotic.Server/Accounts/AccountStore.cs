using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;

namespace Cenotic.Server.Accounts;

/// <summary>Accounts, written through the one gate like everything else: a long write of samples makes them wait, and does not make them fail.</summary>
public sealed class AccountStore(CenoticStore store, WriteGate gate, IdentityErrorDescriber? describer = null)
    : UserOnlyStore<Account, CenoticStore, string>(store, describer)
{
    public override Task<IdentityResult> CreateAsync(Account user, CancellationToken cancellationToken = default) =>
        gate.AloneAsync(() => base.CreateAsync(user, cancellationToken), cancellationToken);

    public override Task<IdentityResult> UpdateAsync(Account user, CancellationToken cancellationToken = default) =>
        gate.AloneAsync(() => base.UpdateAsync(user, cancellationToken), cancellationToken);

    public override Task<IdentityResult> DeleteAsync(Account user, CancellationToken cancellationToken = default) =>
        gate.AloneAsync(() => base.DeleteAsync(user, cancellationToken), cancellationToken);
}
