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
        model.Entity<SiteRow>(e =>
        {
            e.ToTable("sites");
            e.HasKey(r => r.Key);
        });
        model.Entity<MembershipRow>(e =>
        {
            e.ToTable("memberships");
            e.HasKey(r => new { r.Site, r.AccountId });
            e.Property(r => r.Role).HasConversion<string>();
            Belongs(e);
        });
        model.Entity<DocumentRow>(e =>
        {
            e.ToTable("documents");
            e.HasKey(r => new { r.Site, r.Key });
            Belongs(e);
        });
        model.Entity<RevisionRow>(e =>
        {
            e.ToTable("revisions");
            e.HasKey(r => new { r.Site, r.Revision });
            Belongs(e);
        });
        model.Entity<ReadingRow>(e =>
        {
            e.ToTable("readings");
            e.HasIndex(r => new
                {
                    r.Site,
                    r.Node,
                    r.Key,
                })
                .IsUnique();
            e.Property(r => r.Kind).HasConversion<string>();
            Belongs(e);
        });
        model.Entity<ArrivalRow>(e =>
        {
            e.ToTable("arrivals");
            e.Property(r => r.Life).HasDefaultValue(0);
            e.HasIndex(r => new
                {
                    r.Site,
                    r.Node,
                    r.Life,
                    r.Boot,
                    r.Number,
                })
                .IsUnique();
            e.HasIndex(r => r.Import).HasFilter("Import IS NOT NULL");
        });
        model.Entity<RefusalRow>(e =>
        {
            e.ToTable("refusals");
            e.Property(r => r.Count).HasDefaultValue(1L);
            e.HasIndex(r => new
            {
                r.Site,
                r.Node,
                r.Id,
            });
        });
        model.Entity<NodeKeyRow>(e =>
        {
            e.ToTable("node_keys");
            e.HasKey(r => new { r.Site, r.Node });
            Belongs(e);
        });
        model.Entity<NodeStatusRow>(e =>
        {
            e.ToTable("node_status");
            e.Property(r => r.Repeats).HasDefaultValue(0L);
            e.HasKey(r => new { r.Site, r.Node });
            Belongs(e);
        });
        model.Entity<NodeLifeRow>(e =>
        {
            e.ToTable("node_lives");
            e.HasIndex(r => new
            {
                r.Site,
                r.Node,
                r.Id,
            });
            Belongs(e);
        });
        model.Entity<ImportRow>(e =>
        {
            e.ToTable("imports");
            e.HasIndex(r => new { r.Site, r.Id });
            Belongs(e);
        });
        model.Entity<SetAsideRow>(e =>
        {
            e.ToTable("set_aside");
            e.HasIndex(r => new
            {
                r.Site,
                r.Node,
                r.Reading,
            });
            Belongs(e);
        });
        model.Entity<CommandRow>(e =>
        {
            e.ToTable("commands");
            e.HasIndex(r => new { r.Site, r.Id });
            Belongs(e);
        });
        model.Entity<ScanRow>(e =>
        {
            e.ToTable("scans");
            e.HasIndex(r => new
            {
                r.Site,
                r.Node,
                r.Id,
            });
            Belongs(e);
        });
        model.Entity<NodeReportRow>(e =>
        {
            e.ToTable("node_reports");
            e.HasIndex(r => new
            {
                r.Site,
                r.Node,
                r.Id,
            });
            Belongs(e);
        });
        model.Entity<SavedSettingsRow>(e =>
        {
            e.ToTable("saved_settings");
            e.HasKey(r => new
            {
                r.Site,
                r.Node,
                r.Hash,
            });
            Belongs(e);
        });
        model.Entity<CalibrationRow>(e =>
        {
            e.ToTable("calibrations");
            e.HasIndex(r => new { r.Site, r.Node });
            e.HasIndex(r => r.ReadingId);
            Belongs(e);
        });
        model.Entity<LogNoteRow>(e =>
        {
            e.ToTable("log_notes");
            e.HasIndex(r => new { r.Site, r.Id });
            Belongs(e);
        });
        model.Entity<LogPictureRow>(e =>
        {
            e.ToTable("log_pictures");
            e.HasIndex(r => r.Note);
            e.HasOne<LogNoteRow>().WithMany().HasForeignKey(r => r.Note).OnDelete(DeleteBehavior.Cascade);
            Belongs(e);
        });
        model.Entity<OutageRow>(e =>
        {
            e.ToTable("outages");
            e.HasIndex(r => new { r.Site, r.Id });
            Belongs(e);
        });
        model.Entity<BuildTickRow>(e =>
        {
            e.ToTable("build_ticks");
            e.HasIndex(r => new
            {
                r.Site,
                r.Node,
                r.Id,
            });
            e.Property(r => r.Shows).HasConversion<string>();
            Belongs(e);
        });
        model.Entity<RangeWalkRow>(e =>
        {
            e.ToTable("range_walks");
            e.HasIndex(r => new
            {
                r.Site,
                r.Node,
                r.Id,
            });
            Belongs(e);
        });
        model.Entity<DueFeedRow>(e =>
        {
            e.ToTable("due_feeds");
            e.HasKey(r => r.Site);
            e.HasIndex(r => r.Hash).IsUnique();
            Belongs(e);
        });
        model.Entity<DerivedStateRow>(e =>
        {
            e.ToTable("derived_states");
            e.HasKey(r => new { r.Site, r.Key });
            Belongs(e);
        });
        model.Entity<RuleStateRow>(e =>
        {
            e.ToTable("rule_states");
            e.HasKey(r => new { r.Site, r.Rule });
            Belongs(e);
        });
        model.Entity<EpisodeRow>(e =>
        {
            e.ToTable("episodes");
            e.HasIndex(r => new { r.Site, r.RaisedMs });
            e.HasIndex(r => new { r.Site, r.ToldAll });
            Belongs(e);
        });
        model.Entity<OutboxRow>(e =>
        {
            e.ToTable("outbox");
            e.HasIndex(r => new { r.DoneMs, r.NotBeforeMs });
            e.HasIndex(r => r.MessageId).IsUnique();
            e.Property(r => r.Way).HasConversion<string>();
            Belongs(e);
        });
        model.Entity<OutboxEpisodeRow>(e =>
        {
            e.ToTable("outbox_episodes");
            e.HasKey(r => new
            {
                r.Outbox,
                r.Episode,
                r.Step,
            });
            e.HasIndex(r => r.Episode);
            e.HasOne<OutboxRow>().WithMany().HasForeignKey(r => r.Outbox).OnDelete(DeleteBehavior.Cascade);
        });
        model.Entity<NoticeSettingsRow>(e =>
        {
            e.ToTable("notice_settings");
            e.HasKey(r => r.Site);
            Belongs(e);
        });
        model.Entity<ZoneStateRow>(e =>
        {
            e.ToTable("zone_states");
            e.HasKey(r => new { r.Site, r.Zone });
            Belongs(e);
        });
        model.Entity<ZoneTurnRow>(e =>
        {
            e.ToTable("zone_turns");
            e.HasIndex(r => new { r.Site, r.Id });
            Belongs(e);
        });
        model.Entity<ShareLinkRow>(e =>
        {
            e.ToTable("share_links");
            e.HasIndex(r => r.Hash).IsUnique();
            Belongs(e);
        });
        model.Entity<MeasuredCurrentRow>(e =>
        {
            e.ToTable("measured_currents");
            e.HasIndex(r => r.Site);
            e.Property(r => r.State).HasConversion<string>();
            Belongs(e);
        });
    }

    private static void Belongs<T>(Microsoft.EntityFrameworkCore.Metadata.Builders.EntityTypeBuilder<T> entity)
        where T : class => entity.HasOne<SiteRow>().WithMany().HasForeignKey("Site").OnDelete(DeleteBehavior.Cascade);

    /// <summary>For the migrations tool only.</summary>
    public sealed class AtDesignTime : IDesignTimeDbContextFactory<CenoticStore>
    {
        public CenoticStore CreateDbContext(string[] args) => new(For("design-time.db"));
    }
}
