using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Cenotic.Server.Storage.Migrations
{
    /// <inheritdoc />
    public partial class NoticesZonesViews : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "AcknowledgedNote",
                table: "episodes",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Cause",
                table: "episodes",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "Damped",
                table: "episodes",
                type: "INTEGER",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<bool>(
                name: "ToldAll",
                table: "episodes",
                type: "INTEGER",
                nullable: false,
                // Episodes from before are told to nobody any more.
                defaultValue: true);

            migrationBuilder.AddColumn<long>(
                name: "ToldUntilMs",
                table: "episodes",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0L);

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
                name: "IX_episodes_Site_ToldAll",
                table: "episodes",
                columns: new[] { "Site", "ToldAll" });

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
                name: "IX_share_links_Hash",
                table: "share_links",
                column: "Hash",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_share_links_Site",
                table: "share_links",
                column: "Site");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "notice_settings");

            migrationBuilder.DropTable(
                name: "outbox_episodes");

            migrationBuilder.DropTable(
                name: "share_links");

            migrationBuilder.DropTable(
                name: "zone_states");

            migrationBuilder.DropTable(
                name: "outbox");

            migrationBuilder.DropIndex(
                name: "IX_episodes_Site_ToldAll",
                table: "episodes");

            migrationBuilder.DropColumn(
                name: "AcknowledgedNote",
                table: "episodes");

            migrationBuilder.DropColumn(
                name: "Cause",
                table: "episodes");

            migrationBuilder.DropColumn(
                name: "Damped",
                table: "episodes");

            migrationBuilder.DropColumn(
                name: "ToldAll",
                table: "episodes");

            migrationBuilder.DropColumn(
                name: "ToldUntilMs",
                table: "episodes");
        }
    }
}
