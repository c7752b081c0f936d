using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Cenotic.Server.Storage.Migrations
{
    /// <inheritdoc />
    public partial class Initial : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "AspNetUsers",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    UserName = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                    NormalizedUserName = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                    Email = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                    NormalizedEmail = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                    EmailConfirmed = table.Column<bool>(type: "INTEGER", nullable: false),
                    PasswordHash = table.Column<string>(type: "TEXT", nullable: true),
                    SecurityStamp = table.Column<string>(type: "TEXT", nullable: true),
                    ConcurrencyStamp = table.Column<string>(type: "TEXT", nullable: true),
                    PhoneNumber = table.Column<string>(type: "TEXT", nullable: true),
                    PhoneNumberConfirmed = table.Column<bool>(type: "INTEGER", nullable: false),
                    TwoFactorEnabled = table.Column<bool>(type: "INTEGER", nullable: false),
                    LockoutEnd = table.Column<DateTimeOffset>(type: "TEXT", nullable: true),
                    LockoutEnabled = table.Column<bool>(type: "INTEGER", nullable: false),
                    AccessFailedCount = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AspNetUsers", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "arrivals",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    Life = table.Column<int>(type: "INTEGER", nullable: false, defaultValue: 0),
                    Boot = table.Column<long>(type: "INTEGER", nullable: true),
                    Number = table.Column<long>(type: "INTEGER", nullable: true),
                    ReceivedMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Bytes = table.Column<int>(type: "INTEGER", nullable: false),
                    Rssi = table.Column<double>(type: "REAL", nullable: true),
                    Battery = table.Column<double>(type: "REAL", nullable: true),
                    ClockMs = table.Column<long>(type: "INTEGER", nullable: true),
                    Digest = table.Column<long>(type: "INTEGER", nullable: true),
                    Import = table.Column<long>(type: "INTEGER", nullable: true),
                    CorrectionMs = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_arrivals", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "refusals",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Reason = table.Column<string>(type: "TEXT", nullable: false),
                    Excerpt = table.Column<string>(type: "TEXT", nullable: false),
                    Count = table.Column<long>(type: "INTEGER", nullable: false, defaultValue: 1L)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_refusals", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "sites",
                columns: table => new
                {
                    Key = table.Column<string>(type: "TEXT", nullable: false),
                    Revision = table.Column<long>(type: "INTEGER", nullable: false),
                    EpochSystemMs = table.Column<long>(type: "INTEGER", nullable: false),
                    EpochSiteMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Speed = table.Column<double>(type: "REAL", nullable: false),
                    JudgedArrival = table.Column<long>(type: "INTEGER", nullable: false),
                    JudgedAnywayMs = table.Column<long>(type: "INTEGER", nullable: true),
                    JudgedAnywayArrival = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_sites", x => x.Key);
                });

            migrationBuilder.CreateTable(
                name: "AspNetUserClaims",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    UserId = table.Column<string>(type: "TEXT", nullable: false),
                    ClaimType = table.Column<string>(type: "TEXT", nullable: true),
                    ClaimValue = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AspNetUserClaims", x => x.Id);
                    table.ForeignKey(
                        name: "FK_AspNetUserClaims_AspNetUsers_UserId",
                        column: x => x.UserId,
                        principalTable: "AspNetUsers",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "AspNetUserLogins",
                columns: table => new
                {
                    LoginProvider = table.Column<string>(type: "TEXT", nullable: false),
                    ProviderKey = table.Column<string>(type: "TEXT", nullable: false),
                    ProviderDisplayName = table.Column<string>(type: "TEXT", nullable: true),
                    UserId = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AspNetUserLogins", x => new { x.LoginProvider, x.ProviderKey });
                    table.ForeignKey(
                        name: "FK_AspNetUserLogins_AspNetUsers_UserId",
                        column: x => x.UserId,
                        principalTable: "AspNetUsers",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "AspNetUserTokens",
                columns: table => new
                {
                    UserId = table.Column<string>(type: "TEXT", nullable: false),
                    LoginProvider = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Value = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AspNetUserTokens", x => new { x.UserId, x.LoginProvider, x.Name });
                    table.ForeignKey(
                        name: "FK_AspNetUserTokens_AspNetUsers_UserId",
                        column: x => x.UserId,
                        principalTable: "AspNetUsers",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "build_ticks",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    Step = table.Column<string>(type: "TEXT", nullable: false),
                    Title = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Who = table.Column<string>(type: "TEXT", nullable: false),
                    Done = table.Column<bool>(type: "INTEGER", nullable: false),
                    Took = table.Column<string>(type: "TEXT", nullable: true),
                    Shows = table.Column<string>(type: "TEXT", nullable: true),
                    Value = table.Column<double>(type: "REAL", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_build_ticks", x => x.Id);
                    table.ForeignKey(
                        name: "FK_build_ticks_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "calibrations",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    Reading = table.Column<string>(type: "TEXT", nullable: false),
                    ReadingId = table.Column<int>(type: "INTEGER", nullable: false),
                    FromMs = table.Column<long>(type: "INTEGER", nullable: false),
                    UntilMs = table.Column<long>(type: "INTEGER", nullable: true),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Who = table.Column<string>(type: "TEXT", nullable: false),
                    Body = table.Column<string>(type: "TEXT", nullable: false),
                    Against = table.Column<string>(type: "TEXT", nullable: false),
                    Fitted = table.Column<string>(type: "TEXT", nullable: false),
                    DueMs = table.Column<long>(type: "INTEGER", nullable: true),
                    UndoneMs = table.Column<long>(type: "INTEGER", nullable: true),
                    UndoneBy = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_calibrations", x => x.Id);
                    table.ForeignKey(
                        name: "FK_calibrations_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "commands",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    Output = table.Column<string>(type: "TEXT", nullable: false),
                    On = table.Column<bool>(type: "INTEGER", nullable: false),
                    Who = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    UntilMs = table.Column<long>(type: "INTEGER", nullable: false),
                    AnsweredMs = table.Column<long>(type: "INTEGER", nullable: true),
                    Taken = table.Column<bool>(type: "INTEGER", nullable: true),
                    EndedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    Ended = table.Column<string>(type: "TEXT", nullable: true),
                    Over = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_commands", x => x.Id);
                    table.ForeignKey(
                        name: "FK_commands_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "derived_states",
                columns: table => new
                {
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Key = table.Column<string>(type: "TEXT", nullable: false),
                    From = table.Column<string>(type: "TEXT", nullable: false),
                    State = table.Column<string>(type: "TEXT", nullable: false),
                    Arrival = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_derived_states", x => new { x.Site, x.Key });
                    table.ForeignKey(
                        name: "FK_derived_states_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "documents",
                columns: table => new
                {
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Key = table.Column<string>(type: "TEXT", nullable: false),
                    Position = table.Column<int>(type: "INTEGER", nullable: false),
                    FormatVersion = table.Column<int>(type: "INTEGER", nullable: false),
                    Body = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_documents", x => new { x.Site, x.Key });
                    table.ForeignKey(
                        name: "FK_documents_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "due_feeds",
                columns: table => new
                {
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Hash = table.Column<string>(type: "TEXT", nullable: false),
                    CreatedMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Who = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_due_feeds", x => x.Site);
                    table.ForeignKey(
                        name: "FK_due_feeds_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "episodes",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Rule = table.Column<string>(type: "TEXT", nullable: false),
                    Label = table.Column<string>(type: "TEXT", nullable: false),
                    RaisedMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Value = table.Column<double>(type: "REAL", nullable: true),
                    ClearedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    AcknowledgedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    AcknowledgedBy = table.Column<string>(type: "TEXT", nullable: true),
                    AcknowledgedNote = table.Column<string>(type: "TEXT", nullable: true),
                    Late = table.Column<bool>(type: "INTEGER", nullable: false),
                    Cause = table.Column<string>(type: "TEXT", nullable: true),
                    Damped = table.Column<bool>(type: "INTEGER", nullable: false),
                    ToldUntilMs = table.Column<long>(type: "INTEGER", nullable: false),
                    ToldAll = table.Column<bool>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_episodes", x => x.Id);
                    table.ForeignKey(
                        name: "FK_episodes_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "imports",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    FileName = table.Column<string>(type: "TEXT", nullable: false),
                    Digest = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Who = table.Column<string>(type: "TEXT", nullable: false),
                    Samples = table.Column<long>(type: "INTEGER", nullable: false),
                    UndoneMs = table.Column<long>(type: "INTEGER", nullable: true),
                    UndoneBy = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_imports", x => x.Id);
                    table.ForeignKey(
                        name: "FK_imports_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "log_notes",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: true),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Who = table.Column<string>(type: "TEXT", nullable: false),
                    Text = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_log_notes", x => x.Id);
                    table.ForeignKey(
                        name: "FK_log_notes_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "measured_currents",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    State = table.Column<string>(type: "TEXT", nullable: false),
                    Milliamps = table.Column<double>(type: "REAL", nullable: false),
                    How = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_measured_currents", x => x.Id);
                    table.ForeignKey(
                        name: "FK_measured_currents_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "memberships",
                columns: table => new
                {
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    AccountId = table.Column<string>(type: "TEXT", nullable: false),
                    Role = table.Column<string>(type: "TEXT", nullable: false),
                    MayAct = table.Column<bool>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_memberships", x => new { x.Site, x.AccountId });
                    table.ForeignKey(
                        name: "FK_memberships_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "node_keys",
                columns: table => new
                {
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    Hash = table.Column<string>(type: "TEXT", nullable: false),
                    CreatedMs = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_node_keys", x => new { x.Site, x.Node });
                    table.ForeignKey(
                        name: "FK_node_keys_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "node_lives",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    Life = table.Column<int>(type: "INTEGER", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Times = table.Column<int>(type: "INTEGER", nullable: false),
                    BeforeBoot = table.Column<long>(type: "INTEGER", nullable: false),
                    BeforeNumber = table.Column<long>(type: "INTEGER", nullable: false),
                    Boot = table.Column<long>(type: "INTEGER", nullable: false),
                    Number = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_node_lives", x => x.Id);
                    table.ForeignKey(
                        name: "FK_node_lives_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "node_reports",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Boot = table.Column<long>(type: "INTEGER", nullable: true),
                    Firmware = table.Column<string>(type: "TEXT", nullable: true),
                    Settings = table.Column<string>(type: "TEXT", nullable: true),
                    Reset = table.Column<string>(type: "TEXT", nullable: true),
                    SupplyVolts = table.Column<double>(type: "REAL", nullable: true),
                    FreeBytes = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_node_reports", x => x.Id);
                    table.ForeignKey(
                        name: "FK_node_reports_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "node_status",
                columns: table => new
                {
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    Up = table.Column<bool>(type: "INTEGER", nullable: true),
                    UpMs = table.Column<long>(type: "INTEGER", nullable: true),
                    CorrectionMs = table.Column<long>(type: "INTEGER", nullable: true),
                    CorrectionAtMs = table.Column<long>(type: "INTEGER", nullable: true),
                    Repeats = table.Column<long>(type: "INTEGER", nullable: false, defaultValue: 0L),
                    RepeatMs = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_node_status", x => new { x.Site, x.Node });
                    table.ForeignKey(
                        name: "FK_node_status_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "notice_settings",
                columns: table => new
                {
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    MailHost = table.Column<string>(type: "TEXT", nullable: true),
                    MailPort = table.Column<int>(type: "INTEGER", nullable: false),
                    MailTls = table.Column<bool>(type: "INTEGER", nullable: false),
                    MailFrom = table.Column<string>(type: "TEXT", nullable: true),
                    MailUser = table.Column<string>(type: "TEXT", nullable: true),
                    MailPassword = table.Column<string>(type: "TEXT", nullable: true),
                    TextUrl = table.Column<string>(type: "TEXT", nullable: true),
                    TextKey = table.Column<string>(type: "TEXT", nullable: true),
                    WebhookSecret = table.Column<string>(type: "TEXT", nullable: false),
                    HomeNetworks = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_notice_settings", x => x.Site);
                    table.ForeignKey(
                        name: "FK_notice_settings_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "outages",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    FromMs = table.Column<long>(type: "INTEGER", nullable: false),
                    ToMs = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_outages", x => x.Id);
                    table.ForeignKey(
                        name: "FK_outages_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "outbox",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Person = table.Column<string>(type: "TEXT", nullable: false),
                    Way = table.Column<string>(type: "TEXT", nullable: false),
                    Address = table.Column<string>(type: "TEXT", nullable: false),
                    MessageId = table.Column<string>(type: "TEXT", nullable: false),
                    Notices = table.Column<string>(type: "TEXT", nullable: false),
                    CreatedMs = table.Column<long>(type: "INTEGER", nullable: false),
                    NotBeforeMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Tries = table.Column<int>(type: "INTEGER", nullable: false),
                    HandingMs = table.Column<long>(type: "INTEGER", nullable: true),
                    DoneMs = table.Column<long>(type: "INTEGER", nullable: true),
                    Taken = table.Column<bool>(type: "INTEGER", nullable: false),
                    Result = table.Column<string>(type: "TEXT", nullable: true),
                    MaybeTwice = table.Column<bool>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_outbox", x => x.Id);
                    table.ForeignKey(
                        name: "FK_outbox_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "range_walks",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    Spot = table.Column<string>(type: "TEXT", nullable: false),
                    Who = table.Column<string>(type: "TEXT", nullable: false),
                    FromMs = table.Column<long>(type: "INTEGER", nullable: false),
                    ToMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Heard = table.Column<int>(type: "INTEGER", nullable: false),
                    Lost = table.Column<int>(type: "INTEGER", nullable: false),
                    RssiMedian = table.Column<double>(type: "REAL", nullable: true),
                    RssiLow = table.Column<double>(type: "REAL", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_range_walks", x => x.Id);
                    table.ForeignKey(
                        name: "FK_range_walks_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "readings",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    Key = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_readings", x => x.Id);
                    table.ForeignKey(
                        name: "FK_readings_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "revisions",
                columns: table => new
                {
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Revision = table.Column<long>(type: "INTEGER", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Who = table.Column<string>(type: "TEXT", nullable: false),
                    Edits = table.Column<string>(type: "TEXT", nullable: false),
                    Inverse = table.Column<string>(type: "TEXT", nullable: false),
                    Documents = table.Column<string>(type: "TEXT", nullable: false),
                    DocumentsAfter = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_revisions", x => new { x.Site, x.Revision });
                    table.ForeignKey(
                        name: "FK_revisions_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "rule_states",
                columns: table => new
                {
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Rule = table.Column<string>(type: "TEXT", nullable: false),
                    State = table.Column<string>(type: "TEXT", nullable: false),
                    Condition = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_rule_states", x => new { x.Site, x.Rule });
                    table.ForeignKey(
                        name: "FK_rule_states_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "saved_settings",
                columns: table => new
                {
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    Hash = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Who = table.Column<string>(type: "TEXT", nullable: false),
                    Lines = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_saved_settings", x => new { x.Site, x.Node, x.Hash });
                    table.ForeignKey(
                        name: "FK_saved_settings_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "scans",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Who = table.Column<string>(type: "TEXT", nullable: true),
                    Text = table.Column<string>(type: "TEXT", nullable: false),
                    Verdict = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_scans", x => x.Id);
                    table.ForeignKey(
                        name: "FK_scans_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "set_aside",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    Reading = table.Column<string>(type: "TEXT", nullable: false),
                    FromMs = table.Column<long>(type: "INTEGER", nullable: false),
                    ToMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Reason = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Who = table.Column<string>(type: "TEXT", nullable: false),
                    UndoneMs = table.Column<long>(type: "INTEGER", nullable: true),
                    UndoneBy = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_set_aside", x => x.Id);
                    table.ForeignKey(
                        name: "FK_set_aside_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "share_links",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    View = table.Column<string>(type: "TEXT", nullable: false),
                    Label = table.Column<string>(type: "TEXT", nullable: false),
                    Hash = table.Column<string>(type: "TEXT", nullable: false),
                    MadeMs = table.Column<long>(type: "INTEGER", nullable: false),
                    MadeBy = table.Column<string>(type: "TEXT", nullable: false),
                    ExpiresMs = table.Column<long>(type: "INTEGER", nullable: true),
                    RevokedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    Uses = table.Column<int>(type: "INTEGER", nullable: false),
                    LastUseMs = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_share_links", x => x.Id);
                    table.ForeignKey(
                        name: "FK_share_links_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "zone_states",
                columns: table => new
                {
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Zone = table.Column<string>(type: "TEXT", nullable: false),
                    State = table.Column<string>(type: "TEXT", nullable: false),
                    Who = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_zone_states", x => new { x.Site, x.Zone });
                    table.ForeignKey(
                        name: "FK_zone_states_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "zone_turns",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Zone = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Who = table.Column<string>(type: "TEXT", nullable: true),
                    Turn = table.Column<string>(type: "TEXT", nullable: false),
                    Mode = table.Column<string>(type: "TEXT", nullable: false),
                    Cause = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_zone_turns", x => x.Id);
                    table.ForeignKey(
                        name: "FK_zone_turns_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "log_pictures",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Note = table.Column<long>(type: "INTEGER", nullable: false),
                    Type = table.Column<string>(type: "TEXT", nullable: false),
                    Body = table.Column<byte[]>(type: "BLOB", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_log_pictures", x => x.Id);
                    table.ForeignKey(
                        name: "FK_log_pictures_log_notes_Note",
                        column: x => x.Note,
                        principalTable: "log_notes",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_log_pictures_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "outbox_episodes",
                columns: table => new
                {
                    Outbox = table.Column<long>(type: "INTEGER", nullable: false),
                    Episode = table.Column<long>(type: "INTEGER", nullable: false),
                    Step = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_outbox_episodes", x => new { x.Outbox, x.Episode, x.Step });
                    table.ForeignKey(
                        name: "FK_outbox_episodes_outbox_Outbox",
                        column: x => x.Outbox,
                        principalTable: "outbox",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_AspNetUserClaims_UserId",
                table: "AspNetUserClaims",
                column: "UserId");

            migrationBuilder.CreateIndex(
                name: "IX_AspNetUserLogins_UserId",
                table: "AspNetUserLogins",
                column: "UserId");

            migrationBuilder.CreateIndex(
                name: "EmailIndex",
                table: "AspNetUsers",
                column: "NormalizedEmail");

            migrationBuilder.CreateIndex(
                name: "UserNameIndex",
                table: "AspNetUsers",
                column: "NormalizedUserName",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_arrivals_Import",
                table: "arrivals",
                column: "Import",
                filter: "Import IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_arrivals_Site_Node_Life_Boot_Number",
                table: "arrivals",
                columns: new[] { "Site", "Node", "Life", "Boot", "Number" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_build_ticks_Site_Node_Id",
                table: "build_ticks",
                columns: new[] { "Site", "Node", "Id" });

            migrationBuilder.CreateIndex(
                name: "IX_calibrations_ReadingId",
                table: "calibrations",
                column: "ReadingId");

            migrationBuilder.CreateIndex(
                name: "IX_calibrations_Site_Node",
                table: "calibrations",
                columns: new[] { "Site", "Node" });

            migrationBuilder.CreateIndex(
                name: "IX_commands_Site_Id",
                table: "commands",
                columns: new[] { "Site", "Id" });

            migrationBuilder.CreateIndex(
                name: "IX_due_feeds_Hash",
                table: "due_feeds",
                column: "Hash",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_episodes_Site_RaisedMs",
                table: "episodes",
                columns: new[] { "Site", "RaisedMs" });

            migrationBuilder.CreateIndex(
                name: "IX_episodes_Site_ToldAll",
                table: "episodes",
                columns: new[] { "Site", "ToldAll" });

            migrationBuilder.CreateIndex(
                name: "IX_imports_Site_Id",
                table: "imports",
                columns: new[] { "Site", "Id" });

            migrationBuilder.CreateIndex(
                name: "IX_log_notes_Site_Id",
                table: "log_notes",
                columns: new[] { "Site", "Id" });

            migrationBuilder.CreateIndex(
                name: "IX_log_pictures_Note",
                table: "log_pictures",
                column: "Note");

            migrationBuilder.CreateIndex(
                name: "IX_log_pictures_Site",
                table: "log_pictures",
                column: "Site");

            migrationBuilder.CreateIndex(
                name: "IX_measured_currents_Site",
                table: "measured_currents",
                column: "Site");

            migrationBuilder.CreateIndex(
                name: "IX_node_lives_Site_Node_Id",
                table: "node_lives",
                columns: new[] { "Site", "Node", "Id" });

            migrationBuilder.CreateIndex(
                name: "IX_node_reports_Site_Node_Id",
                table: "node_reports",
                columns: new[] { "Site", "Node", "Id" });

            migrationBuilder.CreateIndex(
                name: "IX_outages_Site_Id",
                table: "outages",
                columns: new[] { "Site", "Id" });

            migrationBuilder.CreateIndex(
                name: "IX_outbox_DoneMs_NotBeforeMs",
                table: "outbox",
                columns: new[] { "DoneMs", "NotBeforeMs" });

            migrationBuilder.CreateIndex(
                name: "IX_outbox_MessageId",
                table: "outbox",
                column: "MessageId",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_outbox_Site",
                table: "outbox",
                column: "Site");

            migrationBuilder.CreateIndex(
                name: "IX_outbox_episodes_Episode",
                table: "outbox_episodes",
                column: "Episode");

            migrationBuilder.CreateIndex(
                name: "IX_range_walks_Site_Node_Id",
                table: "range_walks",
                columns: new[] { "Site", "Node", "Id" });

            migrationBuilder.CreateIndex(
                name: "IX_readings_Site_Node_Key",
                table: "readings",
                columns: new[] { "Site", "Node", "Key" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_refusals_Site_Node_Id",
                table: "refusals",
                columns: new[] { "Site", "Node", "Id" });

            migrationBuilder.CreateIndex(
                name: "IX_scans_Site_Node_Id",
                table: "scans",
                columns: new[] { "Site", "Node", "Id" });

            migrationBuilder.CreateIndex(
                name: "IX_set_aside_Site_Node_Reading",
                table: "set_aside",
                columns: new[] { "Site", "Node", "Reading" });

            migrationBuilder.CreateIndex(
                name: "IX_share_links_Hash",
                table: "share_links",
                column: "Hash",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_share_links_Site",
                table: "share_links",
                column: "Site");

            migrationBuilder.CreateIndex(
                name: "IX_zone_turns_Site_Id",
                table: "zone_turns",
                columns: new[] { "Site", "Id" });

            // Samples and rollups are not entities: they are written with prepared commands.
            migrationBuilder.Sql(
                """
                CREATE TABLE samples (
                    reading_id INTEGER NOT NULL REFERENCES readings (Id),
                    t INTEGER NOT NULL,
                    n INTEGER NOT NULL,
                    raw REAL NOT NULL,
                    value REAL NOT NULL,
                    flags INTEGER NOT NULL,
                    arrival_id INTEGER NOT NULL,
                    PRIMARY KEY (reading_id, t, n)
                ) WITHOUT ROWID;
                CREATE INDEX samples_by_arrival ON samples (arrival_id);
                CREATE TABLE rollups (
                    reading_id INTEGER NOT NULL REFERENCES readings (Id),
                    step INTEGER NOT NULL,
                    t INTEGER NOT NULL,
                    n INTEGER NOT NULL,
                    low REAL NOT NULL,
                    high REAL NOT NULL,
                    sum REAL NOT NULL,
                    last REAL NOT NULL,
                    last_t INTEGER NOT NULL,
                    rises INTEGER NOT NULL,
                    PRIMARY KEY (reading_id, step, t)
                ) WITHOUT ROWID;
                """);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder) =>
            throw new NotSupportedException("There is nothing before the first step; a copy from before an upgrade is put back by ./run restore.");
    }
}
