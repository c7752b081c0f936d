using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Cenotic.Server.Storage.Migrations
{
    /// <inheritdoc />
    public partial class WalkRadio : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "Receiver",
                table: "range_walks",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<double>(
                name: "RadiatedDbm",
                table: "range_walks",
                type: "REAL",
                nullable: true);

            migrationBuilder.AddColumn<double>(
                name: "GainDbi",
                table: "range_walks",
                type: "REAL",
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "Receiver",
                table: "range_walks");

            migrationBuilder.DropColumn(
                name: "RadiatedDbm",
                table: "range_walks");

            migrationBuilder.DropColumn(
                name: "GainDbi",
                table: "range_walks");
        }
    }
}
