using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Cenotic.Server.Storage.Migrations
{
    /// <inheritdoc />
    public partial class BuildAndLog : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
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

            migrationBuilder.CreateIndex(
                name: "IX_build_ticks_Site_Node_Id",
                table: "build_ticks",
                columns: new[] { "Site", "Node", "Id" });

            migrationBuilder.CreateIndex(
                name: "IX_due_feeds_Hash",
                table: "due_feeds",
                column: "Hash",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_log_pictures_Note",
                table: "log_pictures",
                column: "Note");

            migrationBuilder.CreateIndex(
                name: "IX_log_pictures_Site",
                table: "log_pictures",
                column: "Site");

            migrationBuilder.CreateIndex(
                name: "IX_outages_Site_Id",
                table: "outages",
                columns: new[] { "Site", "Id" });

            migrationBuilder.CreateIndex(
                name: "IX_range_walks_Site_Node_Id",
                table: "range_walks",
                columns: new[] { "Site", "Node", "Id" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "build_ticks");

            migrationBuilder.DropTable(
                name: "due_feeds");

            migrationBuilder.DropTable(
                name: "log_pictures");

            migrationBuilder.DropTable(
                name: "outages");

            migrationBuilder.DropTable(
                name: "range_walks");
        }
    }
}
