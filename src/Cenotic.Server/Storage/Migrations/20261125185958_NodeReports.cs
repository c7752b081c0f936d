using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Cenotic.Server.Storage.Migrations
{
    /// <inheritdoc />
    public partial class NodeReports : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
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

            migrationBuilder.CreateIndex(
                name: "IX_node_reports_Site_Node_Id",
                table: "node_reports",
                columns: new[] { "Site", "Node", "Id" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "node_reports");

            migrationBuilder.DropTable(
                name: "saved_settings");
        }
    }
}
