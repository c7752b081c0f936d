using Cenotic.Core.BringUp;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Server.BringUp;
using Cenotic.Server.Ingest;
using Cenotic.Server.Samples;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;

namespace Cenotic.Server.Storage;

/// <summary>The database. Samples and rollups are tables of the first migration, written with prepared commands (<see cref="SampleWriter"/>).</summary>
public sealed class CenoticStore(DbContextOptions<CenoticStore> options) : IdentityUserContext<Account>(options)
{
    /// <summary>Of a site and without a reference to it: one would be looked up with every message.</summary>
    private static readonly Type[] Unbound = [typeof(ArrivalRow), typeof(RefusalRow)];

    public DbSet<SiteRow> Sites => Set<SiteRow>();
    public DbSet<MembershipRow> Memberships => Set<MembershipRow>();
    public DbSet<DocumentRow> Documents => Set<DocumentRow>();
    public DbSet<RevisionRow> Revisions => Set<RevisionRow>();
    public DbSet<ReadingRow> Readings => Set<ReadingRow>();
    public DbSet<ArrivalRow> Arrivals => Set<ArrivalRow>();
    public DbSet<RefusalRow> Refusals => Set<RefusalRow>();
    public DbSet<NodeKeyRow> NodeKeys => Set<NodeKeyRow>();
    public DbSet<NodeStatusRow> NodeStatuses => Set<NodeStatusRow>();
    public DbSet<NodeLifeRow> NodeLives => Set<NodeLifeRow>();
    public DbSet<ImportRow> Imports => Set<ImportRow>();
    public DbSet<SetAsideRow> SetAside => Set<SetAsideRow>();
    public DbSet<CommandRow> Commands => Set<CommandRow>();
    public DbSet<ScanRow> Scans => Set<ScanRow>();
    public DbSet<NodeReportRow> NodeReports => Set<NodeReportRow>();
    public DbSet<SavedSettingsRow> SavedSettings => Set<SavedSettingsRow>();
    public DbSet<CalibrationRow> Calibrations => Set<CalibrationRow>();
    public DbSet<LogNoteRow> LogNotes => Set<LogNoteRow>();
    public DbSet<LogPictureRow> LogPictures => Set<LogPictureRow>();
    public DbSet<PlanPictureRow> PlanPictures => Set<PlanPictureRow>();
    public DbSet<OutageRow> Outages => Set<OutageRow>();
    public DbSet<BuildTickRow> BuildTicks => Set<BuildTickRow>();
    public DbSet<RangeWalkRow> RangeWalks => Set<RangeWalkRow>();
    public DbSet<DueFeedRow> DueFeeds => Set<DueFeedRow>();
    public DbSet<DerivedStateRow> DerivedStates => Set<DerivedStateRow>();
    public DbSet<RuleStateRow> RuleStates => Set<RuleStateRow>();
    public DbSet<EpisodeRow> Episodes => Set<EpisodeRow>();
    public DbSet<OutboxRow> Outbox => Set<OutboxRow>();
    public DbSet<OutboxEpisodeRow> OutboxEpisodes => Set<OutboxEpisodeRow>();
    public DbSet<NoticeSettingsRow> NoticeSettings => Set<NoticeSettingsRow>();
    public DbSet<ZoneStateRow> ZoneStates => Set<ZoneStateRow>();
    public DbSet<ZoneTurnRow> ZoneTurns => Set<ZoneTurnRow>();
    public DbSet<ShareLinkRow> ShareLinks => Set<ShareLinkRow>();
    public DbSet<MeasuredCurrentRow> MeasuredCurrents => Set<MeasuredCurrentRow>();

    /// <summary>Options for a database file, with the durability that the promise "acknowledged means committed" rests on.</summary>
    public static DbContextOptions<CenoticStore> For(string file) =>
        new DbContextOptionsBuilder<CenoticStore>().UseSqlite($"Data Source={file}").AddInterceptors(DurableConnections.Instance).Options;

    protected override void OnModelCreating(ModelBuilder model)
    {
        base.OnModelCreating(model);
        model.Entity<ArrivalRow>().Property(r => r.Life).HasDefaultValue(0);
        model.Entity<ArrivalRow>().HasIndex(r => r.Import).HasFilter("Import IS NOT NULL");
        model.Entity<RefusalRow>().Property(r => r.Count).HasDefaultValue(1L);
        model.Entity<NodeStatusRow>().Property(r => r.Repeats).HasDefaultValue(0L);
        model.Entity<LogPictureRow>().HasOne<LogNoteRow>().WithMany().HasForeignKey(r => r.Note).OnDelete(DeleteBehavior.Cascade);
        model.Entity<OutboxEpisodeRow>().HasOne<OutboxRow>().WithMany().HasForeignKey(r => r.Outbox).OnDelete(DeleteBehavior.Cascade);
        foreach (var type in model.Model.GetEntityTypes().Where(t => t.FindProperty("Site") is not null && !Unbound.Contains(t.ClrType)).ToList())
        {
            model.Entity(type.ClrType).HasOne(typeof(SiteRow)).WithMany().HasForeignKey("Site").OnDelete(DeleteBehavior.Cascade);
        }
    }

    protected override void ConfigureConventions(ModelConfigurationBuilder configuration)
    {
        configuration.Properties<Role>().HaveConversion<string>();
        configuration.Properties<ReadingKind>().HaveConversion<string>();
        configuration.Properties<PowerState>().HaveConversion<string>();
        configuration.Properties<MeterShows>().HaveConversion<string>();
        configuration.Properties<WayKind>().HaveConversion<string>();
    }

    /// <summary>For the migrations tool only.</summary>
    public sealed class AtDesignTime : IDesignTimeDbContextFactory<CenoticStore>
    {
        public CenoticStore CreateDbContext(string[] args) => new(For("design-time.db"));
    }
}
